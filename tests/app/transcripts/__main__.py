"""Write the screens of all transcripts anew."""

from tests.app.transcripts import read, replay, transcripts, write

for path in transcripts():
    transcript = read(path)
    write(path, transcript, replay(transcript))
