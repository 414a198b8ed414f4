"""Values with their source and spread, units, field descriptions, facts and errors."""
