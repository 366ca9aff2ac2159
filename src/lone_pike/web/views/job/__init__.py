"""The pages of a job, one frozen view for each."""
