"""Cautions by name, to show where they apply. Common practice; local codes and licensed people come first."""

CAUTIONS = {
    "flashing": "Lag and refresh testing flashes the screen: people with photosensitive epilepsy look away; stop at "
    "the first discomfort.",
    "power_off": "Everything off before leads go in or out, then power on screen first.",
    "volume": "Volume down before the first sound test.",
    "large_screen": "Large screen: two people or more, a mount rated for its weight and the wall. Wall fixing and "
    "mains work by licensed people under local codes; leads in walls rated for it.",
    "burn_in": "Self-lit panel: no static picture at high brightness for long; it can burn in.",
    "own_power": "Feed adapters and switches from a proper supply, not from a screen socket that switches off.",
    "old_supply": "Old machines: check supply voltage, polarity and region before the first switch-on; power off "
    "before analogue plugs go in or out; sync at the 75 ohm level, never TTL.",
    "tube": "Picture tube: dangerous voltages stay inside after power-off, never open it; heavy, lift with two; keep "
    "magnets away; retired sets go where local e-waste rules say.",
    "flicker": "Black-frame insertion flickers: stop at a headache, leave it off for people sensitive to it.",
    "trip": "No overloaded extension leads; keep leads out of walkways.",
}
# in short, where it was said in full before
CAUTION_NAMES = {
    "flashing": "the screen flashes",
    "power_off": "everything off",
    "volume": "volume down",
    "large_screen": "large screen: two people",
    "burn_in": "it can burn in",
    "own_power": "its own supply",
    "old_supply": "old supply, sync level",
    "tube": "picture tube",
    "flicker": "it flickers",
    "trip": "leads on the floor",
}
assert set(CAUTION_NAMES) == set(CAUTIONS)
