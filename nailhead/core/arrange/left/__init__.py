"""The left hand: where the melody lies, which shapes are held, which fingers stay down."""
