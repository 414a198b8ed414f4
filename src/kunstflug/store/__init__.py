"""Tables, migrations and the session; rows in, rows out."""
