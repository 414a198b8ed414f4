"""One boat with one of each part, what is doubted of it, and the one editor of setups."""
