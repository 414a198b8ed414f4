"""Does it go together: shafts, shims, flats, screws, rings, room; joints, section drawing, build list."""
