"""The API and the built front end, from one process."""
