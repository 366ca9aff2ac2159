"""The sample workshop on the island of Sallow Sound; everything in it is made up."""
