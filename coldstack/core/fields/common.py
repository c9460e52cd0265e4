"""Quantities that several values hold: each is told here once."""

from __future__ import annotations

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.counts import LEAST_SERIES, MOST_SERIES, MOST_STRINGS
from coldstack.core.fields.quantity import Choice, Quantity, Words

LEAST_AH, MOST_AH = 0.01, 200.0
"""Capacity that a pack can have. [Ah]"""

NAME = Words(
    "Name",
    words="label pack_name battery_name model_name product_name pack title model product battery bezeichnung "
    "nom nombre item type_label",
    least=1,
)
NOTE = Words("Note", words="notes comment comments remark remarks bemerkung bemerkungen info", most=200)
CHEMISTRY = Choice(
    "Chemistry",
    words="chem chemie chimie type cell_chemistry battery_type kind",
    of="chemistries",
    ids=CHEMISTRY_IDS,
)
CHEMISTRIES = Choice(
    "Chemistries", words="chemistry types", of="chemistries", ids=CHEMISTRY_IDS, most=len(CHEMISTRY_IDS)
)
SERIES = Quantity(
    "Cells in series",
    words="s cells no_cells no_of_cells s_count cell_count number_of_cells zellen in_series series_cells "
    "cells_s config configuration",
    low=LEAST_SERIES,
    high=MOST_SERIES,
    usual=(1, 8),
)
PARALLEL = Quantity(
    "Strings in parallel",
    words="p strings in_parallel parallel_strings",
    low=1,
    high=MOST_STRINGS,
    usual=(1, 4),
)
_CAPACITY_WORDS = (
    "capacity cap ah mah kapazitat kapazitaet capacite capacidad capacity_mah size_mah rated_capacity"
)
CAPACITY = Quantity("Capacity", _CAPACITY_WORDS, "", "Ah", LEAST_AH, MOST_AH, 100, (0.1, 22))
CELL_CAPACITY = Quantity("Capacity", _CAPACITY_WORDS, "", "Ah", LEAST_AH, 100, 100, (0.2, 6))
_MASS_WORDS = "mass weight wt grams weight_in_grams mass_in_grams gewicht poids peso weight_g"
PACK_MASS = Quantity(
    "Mass", _MASS_WORDS, "left empty, a typical one is assumed", "g", 0.5, 50_000, 5, (10, 3000)
)
CELL_MASS = Quantity("Mass", _MASS_WORDS, "", "g", 0.5, 5000, 1, (15, 100))
MODEL_MASS = Quantity("Mass without the pack", unit="g", low=5, high=200_000, step=10, usual=(30, 15_000))
LENGTH = Quantity("Length", "length l lange laenge longueur", "", "mm", 1, 2000, 1, (20, 300))
WIDTH = Quantity("Width", "width w b breite largeur", "", "mm", 1, 2000, 1, (10, 100))
HEIGHT = Quantity("Height", "height h thickness hohe hoehe hauteur", "", "mm", 1, 2000, 1, (5, 80))
LABEL_C = Quantity(
    "Continuous C",
    words="c c_rating rating continuous_discharge discharge_c c_cont cont_c c_continuous discharge "
    "discharge_rate c_rate",
    unit="C",
    low=0.1,
    high=500,
    step=5,
    usual=(5, 120),
)
CELL_RESISTANCE = Quantity(
    "Resistance of a cell",
    words="ir resistance internal_resistance cell_resistance mohm innenwiderstand cell_ir",
    unit="mΩ",
    low=0.05,
    high=2000,
    step=0.1,
    usual=(0.5, 60),
)
PLUG_RESISTANCE = Quantity(
    "Resistance, both poles",
    words="ir resistance mohm",
    hint="left empty, as plugs of such amps mostly have",
    unit="mΩ",
    low=0.01,
    high=500,
    step=0.1,
    usual=(0.2, 4),
)
_GAUGE = "awg wire gauge leads lead wire_gauge"
LEADS = Quantity("Leads", _GAUGE, "", "AWG", 0, 40, 1, (6, 24))
LEAD_LENGTH = Quantity(
    "Length of the leads",
    words="lead_length cable_length",
    unit="mm",
    low=0,
    high=5000,
    step=5,
    usual=(30, 400),
)
PRICE = Quantity(
    "Price",
    words="cost purchase_price price_paid preis prix precio paid eur usd gbp",
    unit="money",
    low=0,
    high=100_000,
)
PLUG_WORDS = "connector main_plug stecker connecteur plug_type main_connector"
