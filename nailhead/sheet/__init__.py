"""Page and tab layout, computed once for every painter: marks in millimetres, no colours, no pixels."""
