"""What the pages show: each stage one complete, frozen view, built before rendering; templates only ask it."""
