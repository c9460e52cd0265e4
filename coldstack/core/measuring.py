"""How to find a figure that nobody gave, in words: said where the figure matters."""

from __future__ import annotations

from coldstack.core.units import MM

HOW_TO: dict[str, str] = {
    "mass_g": "Put it on a kitchen scale, leads and plug with it.",
    "length_mm": "Measure it with a rule over everything stiff, shrink wrap with it, leads bent "
    "aside: length, width, height.",
    "port_w": "The charger’s plate or manual says the watts of a port; amps alone do not tell them.",
    "mains_w": "The plate or manual says the watts of all ports together, on the mains and on DC.",
    "awg": "The insulation says the gauge; else measure the bare copper, all strands together: "
    f"about 1.2{MM} is 18 AWG, 1.5{MM} 16, 1.9{MM} 14, 2.4{MM} 12.",
    "lead_awg": "The insulation says the gauge; else measure the bare copper, all strands together: "
    f"about 1.2{MM} is 18 AWG, 1.5{MM} 16, 1.9{MM} 14, 2.4{MM} 12.",
    "plug": "Look at its shape and size, and try a plug that you know.",
    "cell_mohm": "Many chargers show it a minute into a charge; at room temperature, half full.",
    "charge_c": "It stands on the label beside “charge”; 1C holds where nothing is said.",
}
"""By field of a pack, charger or lead. The widths of copper are those of stranded wire, about 1.15 times
the solid diameter."""
