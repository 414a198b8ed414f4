"""The bin: taken out, and put back."""
