"""Light: transfer functions, white, readings and their curve, what a room asks for, HDR end to end, panels."""
