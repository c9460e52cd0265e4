from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.errors import DomainError
from coldstack.core.labels.checks import only_series
from coldstack.core.labels.guesses import guesses
from coldstack.core.labels.reader import read_label

# label, then what must be read of it; made up, in the spellings that labels come in
LABELS = [
    (
        "5S1P 18.5V 3900mAh 72.2Wh 40C/80C charge 3C",
        {
            "series": 5,
            "parallel": 1,
            "nominal_v": 18.5,
            "capacity_ah": 3.9,
            "energy_wh": 72.2,
            "label_c": 40,
            "label_burst_c": 80,
            "charge_c": 3,
        },
    ),
    ("Hollin 4S 3700 mAh 14.8V 25C", {"series": 4, "capacity_ah": 3.7, "label_c": 25, "chemistry": "lipo"}),
    ("3S 11.1V 2,200mAh 35C LiPo", {"series": 3, "capacity_ah": 2.2, "label_c": 35}),
    ("5 000 mAh 2S 7.4 V", {"series": 2, "capacity_ah": 5.0}),
    ("1.550mAh 4S", {"series": 4, "capacity_ah": 1.55}),
    ("2,2Ah 3S 11,1V", {"series": 3, "capacity_ah": 2.2, "nominal_v": 11.1}),
    ("2.2 A·h 3S", {"capacity_ah": 2.2}),
    ("6 cells 5.2 Ah 60C", {"series": 6, "capacity_ah": 5.2, "label_c": 60}),
    ("four-cell 1300 mAh", {"series": 4, "capacity_ah": 1.3}),
    ("HV 15.2V 1550mAh 100C", {"series": 4, "chemistry": "lihv", "label_c": 100}),
    ("15.2V 1550mAh", {"series": 4, "chemistry": "lihv"}),
    ("Li-HV 22.8 volts 4000mAh", {"series": 6, "chemistry": "lihv"}),
    ("LiPo HV 4S 3600mAh 45C", {"series": 4, "chemistry": "lihv"}),
    ("11.4V 5.2Ah 3S", {"series": 3, "chemistry": "lihv"}),
    (
        "1S 300mAh LiHV 3.8V 30C/60C PH2.0",
        {"series": 1, "chemistry": "lihv", "capacity_ah": 0.3, "label_burst_c": 60, "plug": "ph_2"},
    ),
    ("7.2V NiMH 3700mAh white block", {"series": 6, "chemistry": "nimh", "plug": "block_large"}),
    ("8.4V 7 cell Ni-MH 4200 mAh T-plug", {"series": 7, "chemistry": "nimh", "plug": "t_plug"}),
    ("9.6V nickel metal hydride 2000mAh", {"series": 8, "chemistry": "nimh"}),
    ("LiFePO4 2S 6.6V 2100mAh", {"series": 2, "chemistry": "lifepo4"}),
    ("LiFe 9.9V 2300mAh", {"series": 3, "chemistry": "lifepo4"}),
    ("LFP 4S 12.8 V 8.4Ah 15C", {"series": 4, "chemistry": "lifepo4", "label_c": 15}),
    (
        "Li-ion 6S2P 21.6V 9000mAh 21700",
        {"series": 6, "parallel": 2, "chemistry": "liion", "capacity_ah": 9.0},
    ),
    ("Li-Ion 4S3P 14.4V 10.5Ah", {"series": 4, "parallel": 3, "chemistry": "liion"}),
    ("Lithium polymer 3S 11.1V 4000mAh", {"series": 3, "chemistry": "lipo"}),
    ("Lithium-ion polymer 2S 7.4V", {"series": 2, "chemistry": "lipo"}),
    ("semi-solid 6S 22.2V 12000mAh 10C", {"series": 6, "chemistry": "semisolid", "label_c": 10}),
    ("6S 22.2V 5000mAh 60C~120C", {"label_c": 60, "label_burst_c": 120}),
    ("4S 5000mAh 50-100C", {"label_c": 50, "label_burst_c": 100}),
    ("4S 2.2Ah 35C continuous 70C burst", {"label_c": 35, "label_burst_c": 70}),
    ("4S 2.2Ah burst: 70C, cont. 35C", {"label_c": 35, "label_burst_c": 70}),
    ("3S 1800mAh discharge 30C max 60C", {"label_c": 30, "label_burst_c": 60}),
    ("2S 4800mAh 75C charging rate 5C", {"label_c": 75, "charge_c": 5}),
    ("2S 5000mAh 50C max charge 2C (10A)", {"label_c": 50, "charge_c": 2, "charge_a": 10}),
    ("5C fast charge 3S 2200mAh 45C", {"charge_c": 5, "label_c": 45}),
    ("3S 2200mAh max. charge current 4.4A", {"charge_a": 4.4, "charge_c": 2.0}),
    ("6S 5000mAh 300A 450A burst", {"continuous_a": 300, "burst_a": 450, "label_c": 60, "label_burst_c": 90}),
    (
        "3S 2200mAh 25C XT60 XH 188 g 105x34x25 mm",
        {
            "plug": "xt60",
            "balance_plug": "xh",
            "mass_g": 188,
            "length_mm": 105,
            "width_mm": 34,
            "height_mm": 25,
        },
    ),
    (
        "4S 1500mAh 48 mm x 75mm × 28mm EC3 12AWG",
        {"length_mm": 75, "width_mm": 48, "height_mm": 28, "plug": "ec3", "lead_awg": 12},
    ),
    ("4S 4000mAh 14 oz 4mm bullets", {"mass_g": 396.9, "plug": "bullet_4"}),
    ("3S 24.4Wh", {"series": 3, "energy_wh": 24.4, "capacity_ah": 2.198}),
    ("11.1V 16.7 Wh", {"series": 3, "capacity_ah": 1.505}),
    ("12.6V 3S 2200mAh", {"series": 3, "chemistry": "lipo"}),
    ("17.4V 4S 3600mAh", {"series": 4, "chemistry": "lihv"}),
    ("2S2P 7.4V 6400mAh hard case 60C", {"series": 2, "parallel": 2, "capacity_ah": 6.4}),
    ("4s1p 14.8v 3300MAH 35c", {"series": 4, "parallel": 1, "capacity_ah": 3.3, "label_c": 35}),
]

CONTRADICTIONS = [
    ("3S 14.8V 2200mAh", r"3 LiPo cells make 11.1 V, not 14.8 V.*4 LiPo cells"),
    ("4S 15.2V LiPo 1500mAh", r"4 LiPo cells make 14.8 V, not 15.2 V.*4 LiHV cells"),
    ("6S 22.2V 5000mAh 90Wh", r"22.2 V × 5 Ah are 111 Wh, but the label says 90 Wh"),
    ("3S 2200mAh 25C 110A", r"25C × 2.2 Ah are 55 A continuous, but the label says 110 A"),
    ("3S 2200mAh 25C 50C burst 200A burst", r"50C × 2.2 Ah are 110 A burst, but the label says 200 A"),
    ("2S 5000mAh charge 2C (5A)", r"2C × 5 Ah are 10 A charge, but the label says 5 A"),
    ("3S 2200mAh 2.6Ah", r"both “2200mAh” and “2.6Ah”"),
    ("3S 4S 2200mAh", r"both “3S” and “4S”"),
    ("3S 2200mAh XT60 XT90", r"both “XT60” and “XT90”"),
    ("3S 2200mAh LiPo NiMH", r"both “(NiMH|LiPo)” and “(NiMH|LiPo)”"),
    ("3S 2200mAh 1880 g", r"1880 g\u2060 do not go with 24.4 Wh"),
    ("3S 2200mAh 80C/40C", r"burst rate \(40C\) is below the continuous one \(80C\)"),
]


class Labels(SimpleTestCase):
    def test_many_labels(self):
        """Forty-five made-up labels in all spellings, each with what must be read of it."""
        self.assertGreaterEqual(len(LABELS), 40)
        for line, expected in LABELS:
            with self.subTest(label=line):
                values = read_label(line).values
                self.assertEqual({k: values.get(k) for k in expected}, expected)

    def test_sound_labels_contradict_nothing(self):
        """None of them is accused."""
        for line, _ in LABELS:
            with self.subTest(label=line):
                self.assertEqual(read_label(line).contradictions, [])

    def test_contradictions_are_reported_with_their_numbers(self):
        """Volts against cells, Wh against mAh, amps against C, two capacities, swapped rates."""
        for line, words in CONTRADICTIONS:
            with self.subTest(label=line):
                reading = read_label(line)
                self.assertRegex(" ".join(reading.contradictions), words)

    def test_within_rounding_nothing_is_said(self):
        """72.2 Wh for 72.15, 55 A for 25C of 2.2 Ah."""
        self.assertEqual(read_label("5S 18.5V 3900mAh 72.2Wh").contradictions, [])
        self.assertEqual(read_label("3S 2200mAh 25C 55A").contradictions, [])

    def test_what_is_not_understood_is_said(self):
        """A maker's name, a bare number."""
        self.assertEqual(read_label("Fellside 3S 2200mAh Graupel").unread, "Fellside Graupel")
        self.assertEqual(read_label("3900 12345 4S").unread, "3900 12345")


class WhatHelps(SimpleTestCase):
    def test_balance_wires_fill_the_cells(self):
        """Five wires: 4S; and they contradict a label that says otherwise."""
        reading = read_label("3300mAh 35C", balance_wires=5)
        self.assertEqual(reading.values["series"], 4)
        self.assertIn("4 cells in series, from 5 balance wires.", reading.filled)
        self.assertRegex(
            read_label("3S 3300mAh", balance_wires=5).contradictions[0],
            "5 balance wires mean 4 cells.* says 3",
        )
        with self.assertRaises(DomainError):
            read_label("3S", balance_wires=1)

    def test_measured_volts_fill_the_cells_where_only_one_count_is_possible(self):
        """3.9 V: one cell; 8.1 V: two; 25 V: six or seven, so it asks."""
        self.assertEqual(read_label("300mAh", measured_v=3.9).values["series"], 1)
        self.assertEqual(read_label("4000mAh", measured_v=8.1).values["series"], 2)
        open_question = read_label("4000mAh", measured_v=25.0)
        self.assertNotIn("series", open_question.values)
        self.assertRegex(" ".join(open_question.filled), "6 or 7 LiPo cells: count the balance wires")

    def test_volts_that_mean_several_things_are_not_chosen_silently(self):
        """7.2 V: six NiMH or two Li-ion cells."""
        self.assertRegex(
            " ".join(read_label("7.2V 3000mAh").filled),
            "can be .*NiMH.* or .*Li-ion|can be .*Li-ion.* or .*NiMH",
        )

    def test_an_assumed_chemistry_is_told(self):
        """It decides the end volts: check it."""
        self.assertRegex(
            " ".join(read_label("3S 2200mAh").filled), "LiPo is assumed. Check it before charging"
        )

    def test_what_is_missing_is_named(self):
        """Cells, C, mass."""
        missing = " ".join(read_label("2200mAh").missing)
        for words in ("balance wires", "C rating", "scale"):
            self.assertIn(words, missing)

    def test_guesses_are_typical_and_only_for_what_is_missing(self):
        """A 4S 3.7 Ah LiPo of about 350 g; a label with its mass is not guessed at; without cells nothing
        is."""
        found = guesses(read_label("Hollin 4S 3700mAh 25C"))
        self.assertTrue(280 < found["mass_g"].value < 420)
        self.assertEqual(found["plug"].value, "xt90")
        self.assertEqual(found["name"].value, "Hollin 4S 3700 25C")
        self.assertNotIn("mass_g", guesses(read_label("4S 3700mAh 309 g")))
        self.assertEqual(guesses(read_label("3700mAh")), {})
        self.assertEqual(guesses(read_label("1S 300mAh LiHV"))["plug"].value, "ph_2")


WORDS = st.sampled_from(
    [
        "4S",
        "3s1p",
        "2200mAh",
        "5.0Ah",
        "14.8V",
        "99999999999V",
        "0mAh",
        "0V",
        "0Wh",
        "40C/80C",
        "charge",
        "3C",
        "burst",
        "LiHV",
        "NiMH",
        "7,4 V",
        "188g",
        "XT60",
        "12AWG",
        "×",
        "1e9mAh",
        "0.0001Ah",
        "٤S",
        "½C",
        "－5V",
        "60A",
        "max",
        "(",
        ")",
    ]
)


class Fuzz(SimpleTestCase):
    def check(self, line):
        reading = read_label(line)
        guesses(reading)
        for name, value in reading.values.items():
            self.assertIn(name, reading.words)
            if not isinstance(value, str):
                self.assertTrue(value >= 0)

    @given(st.text(max_size=600))
    def test_any_text_is_read_without_a_crash(self, line):
        """Whatever is pasted."""
        self.check(line)

    @given(
        st.lists(WORDS, max_size=14).map(" ".join),
        st.none() | st.integers(2, 30),
        st.none() | st.floats(0, 200),
    )
    def test_any_words_of_labels_in_any_order(self, line, wires, volts):
        """With wires and volts too."""
        guesses(read_label(line, balance_wires=wires, measured_v=volts))
        self.check(line)

    def test_a_very_long_line_is_cut(self):
        """And does not take long."""
        self.check("4S " * 100_000)


class Volts(SimpleTestCase):
    def test_cells_that_printed_volts_must_mean(self):
        """By the nominal volts of the chemistry; volts that mean none of its counts tell none."""
        for volts, chemistry, series in (
            (11.1, "lipo", 3),
            (8.4, "nimh", 7),
            (12.8, "lifepo4", 4),
            (12.6, "lipo", None),
            (14.4, "lihv", None),
        ):
            self.assertEqual(only_series(volts, chemistry), series, volts)
