"""A club's server: who is in it, how one signs in, what is shared."""
