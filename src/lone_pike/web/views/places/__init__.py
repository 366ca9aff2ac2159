"""Stand, Bikes, Bin and Shop, one frozen view each."""
