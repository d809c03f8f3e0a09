"""What a house is told and tells: links to its page, the monthly look, the diary."""
