"""CSV files as strangers' devices write them, with what is really in them."""
