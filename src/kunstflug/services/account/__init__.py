"""Who may come in: accounts, passwords, passkeys, phones of the local network, what was done with them."""
