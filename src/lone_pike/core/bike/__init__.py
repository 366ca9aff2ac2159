"""The measured bike: its document, what each measure may be, what is wrong with one, and the numbers behind it."""
