"""What several marks need: rows, views, changes, parts, water."""
