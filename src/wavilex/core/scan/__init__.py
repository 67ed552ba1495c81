"""Analogue pictures as pure sums: scan rates, line multiples, shapes. Knows no rig and no gear."""
