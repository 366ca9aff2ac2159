"""Who may do what: passcodes, tablets, tokens."""
