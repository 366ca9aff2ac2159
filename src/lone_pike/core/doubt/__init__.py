"""How sure a count is: how far each measure may be off, and how likely the count stays right."""
