"""The boathouse: boats, their setups, their documents and their sheet of paper."""
