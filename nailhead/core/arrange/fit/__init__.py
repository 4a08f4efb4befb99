"""Fits a right hand to a melody: bar by bar, rung by rung, up to the whole ladder."""
