"""The view Climb: the ladder, the phone in hand, the ways back and the tape."""
