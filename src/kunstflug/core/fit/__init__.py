"""Does it go together: joints, section drawing, build list."""
