"""Ways of playing as data: their patterns, hands, rungs and choices."""
