"""The places beside the jobs (Stand, Bikes, Bin, Shop and others), one frozen view for each."""
