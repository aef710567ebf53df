"""What was found, for other programs and for people who read elsewhere: JSON, JUnit XML, CSV, Markdown."""
