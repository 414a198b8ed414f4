"""Laws: one law is one pure function of floats or arrays; none knows a part."""
