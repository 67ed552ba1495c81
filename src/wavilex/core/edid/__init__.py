"""EDID: what a screen says of itself. Bytes to fields (decode) to answers; a spec back to bytes (build)."""
