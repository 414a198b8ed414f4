"""Compare: what the runs showed, what each change brought, what to measure next."""
