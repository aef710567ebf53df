"""The running app: what goes over the wire, checking an app against its plan, and a stand-in that behaves as a plan says."""
