"""Learning what is arranged: what is new in it, in which steps it is learnt, how it is looped, counted and drilled."""
