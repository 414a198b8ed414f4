"""Documents: what is on disk, in the database and in the API. Typed and versioned; they carry, they do not compute."""
