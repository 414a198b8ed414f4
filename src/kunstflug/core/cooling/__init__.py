"""The water circuit: pieces, its solution, the jacket, what goes wrong at the pond."""
