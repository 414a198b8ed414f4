"""The club: who is in it, its classes and its shelf, what racers show each other."""
