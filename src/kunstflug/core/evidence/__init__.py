"""What is read of a boat, by which instrument, how far it can be trusted, and whether it lies in a forecast's band."""
