"""What the pages show: for each stage one complete, frozen view that is built before rendering; templates only read
it."""
