"""Labels as people type and shops print them: odd ones by hand, and thousands made from a known pack."""

import random

from django.test import SimpleTestCase

from coldstack.core.labels.reader import read_label
from tests.core.labels.making import label, misspelt, truth, wrong_in_silence

# None: not to be read as a figure
ODD = [
    ("4S 2600", {"series": 4, "capacity_ah": 2.6}),
    ("3S2P 4400 25C", {"series": 3, "parallel": 2, "capacity_ah": 4.4, "label_c": 25}),
    ("1750 5S", {"series": 5, "capacity_ah": 1.75}),
    ("5S 4200", {"series": 5, "capacity_ah": 4.2}),
    (
        "3300 mAh 14.8V 50C charge 6.6A",
        {"series": 4, "capacity_ah": 3.3, "label_c": 50, "charge_a": 6.6, "charge_c": 2.0},
    ),
    ("XT60H 3S 2200 35C", {"plug": "xt60", "series": 3, "capacity_ah": 2.2, "label_c": 35}),
    ("4S 1300mAh 100C XT60-F", {"plug": "xt60", "label_c": 100}),
    ("2S 850 XT30U 75C", {"plug": "xt30", "capacity_ah": 0.85}),
    ("6S 5000 EC5-M 60C/120C", {"plug": "ec5", "label_c": 60, "label_burst_c": 120}),
    ("12S 22000mAh QS8-S 25C", {"plug": "qs8", "series": 12, "capacity_ah": 22}),
    ("12S 16Ah AS150U 15C semi solid", {"plug": "as150", "chemistry": "semisolid", "label_c": 15}),
    ("8S 10000 XT150 20C", {"plug": "xt150", "capacity_ah": 10}),
    ("1S 450 LiHV JST-PH 2.0 80C", {"plug": "ph_2", "series": 1, "chemistry": "lihv", "capacity_ah": 0.45}),
    ("1S 300 mAh JST 2.0mm", {"plug": "ph_2"}),
    ("3S 1000 JST-XH 2.54mm XT60", {"plug": "xt60", "balance_plug": "xh", "capacity_ah": 1.0}),
    ("2S 450 JST-RCY", {"plug": "rcy", "capacity_ah": 0.45}),
    ("1S 250 JST 1.25", {"plug": None, "capacity_ah": 0.25}),
    ("T connector 2S 5000 50C hard case", {"plug": "t_plug", "capacity_ah": 5}),
    ("7.2V 3000mAh white two-pin plug NiMH", {"plug": "block_large", "series": 6, "chemistry": "nimh"}),
    ("4mm gold bullets 2S 6800 120C", {"plug": "bullet_4", "capacity_ah": 6.8, "label_c": 120}),
    ("5mm bullets 2S 6800", {"plug": "bullet_5", "capacity_ah": 6.8, "series": 2}),
    ("5.5 mm bullet 2S 6800", {"plug": "bullet_5_5", "capacity_ah": 6.8, "series": 2}),
    ("6.5mm bullet 10S 12000", {"plug": "bullet_6_5", "capacity_ah": 12, "series": 10}),
    ("Li-ion 4S1P 14.8V 3500mAh", {"series": 4, "chemistry": "liion", "capacity_ah": 3.5}),
    ("Li-Ion 14.4V 10.5Ah", {"series": 4, "chemistry": "liion"}),
    ("Li-ion 22.2V 4000mAh", {"series": 6, "chemistry": "liion"}),
    (
        "NiMH 2/3A 1600mAh 7.2V",
        {"series": 6, "capacity_ah": 1.6, "cell_size": "2/3A", "continuous_a": None, "label_c": None},
    ),
    ("8.4V 4/5SC NiMH 2200", {"series": 7, "capacity_ah": 2.2, "chemistry": "nimh"}),
    ("21700 6S2P 8000mAh Li-ion", {"series": 6, "parallel": 2, "capacity_ah": 8}),
    ("Li-ion 18650 3S 3400", {"series": 3, "capacity_ah": 3.4, "cell_size": "18650"}),
    ("charge 3C 4S 45C 2200", {"charge_c": 3, "label_c": 45, "capacity_ah": 2.2}),
    ("4S 2200 45C (max charge: 5C)", {"charge_c": 5, "label_c": 45}),
    ("45C/90C, 6S, 3700, charge max 3C", {"charge_c": 3, "label_c": 45, "label_burst_c": 90}),
    ("4S 11V1 1500", {"nominal_v": 11.1}),
    ("14V8 2200mAh 40C", {"series": 4, "nominal_v": 14.8}),
    ("3S 3.7V/cell 2200mAh", {"series": 3, "nominal_v": 11.1}),
    ("4S 2.200mAh 65C", {"capacity_ah": 2.2}),
    ("4S 5.000 50C", {"capacity_ah": 5.0}),
    ("EC3 300mAh 2S", {"capacity_ah": 0.3, "plug": "ec3"}),
    ("XT60 500mAh 3S", {"capacity_ah": 0.5, "plug": "xt60"}),
    ("burst 80C (10s) 40C 3S 1300mAh", {"series": 3, "label_c": 40, "label_burst_c": 80}),
    ("3S 2200mAh 35C burst 70C 10s", {"series": 3, "label_c": 35, "label_burst_c": 70}),
    ("2200mAh 3S 50C 39,90 €", {"price": 39.9, "label_c": 50}),
    ("€24.50 4S 1300mAh 95C 155g", {"price": 24.5, "mass_g": 155}),
    ("4S 4000mAh 0.41kg 30C", {"mass_g": 410}),
    ("6S 5000 10.5x4.4x5.2cm", {"length_mm": 105, "width_mm": 52, "height_mm": 44}),
    ("4 S 1500 m A h 100 C", {"series": 4, "capacity_ah": 1.5, "label_c": 100}),
    ("5 cells LiPo, 3900, 40C", {"series": 5, "capacity_ah": 3.9}),
    ("5-pin balance 2200mAh 30C", {"series": 4, "capacity_ah": 2.2}),
    ("LiFePO4 2S 6.6V 1450 20C", {"chemistry": "lifepo4", "series": 2, "capacity_ah": 1.45}),
    ("4S HV 15,2V 3,6Ah", {"chemistry": "lihv", "series": 4, "capacity_ah": 3.6}),
    (
        "max continuous discharge: 45C max burst discharge: 90C 4S 1800mAh",
        {"label_c": 45, "label_burst_c": 90},
    ),
    ("Discharge rate 30C, charge rate 2C, 3S, 2600mAh", {"label_c": 30, "charge_c": 2}),
    ("25C continuous / 35C burst 6S 8000mAh", {"label_c": 25, "label_burst_c": 35}),
    ("3S 2200 Laderate 5C Entladerate 40C", {"label_c": 40, "charge_c": 5}),
    (
        "RC pack 2S1P 7,4 V 1000 mAh 20C JST-RCY 58 g",
        {"series": 2, "capacity_ah": 1, "label_c": 20, "plug": "rcy", "mass_g": 58},
    ),
    ("4S charge 15C 2200mAh 80C", {"charge_c": None, "label_c": 80}),
    ("2200mAh 5C 3S", {"label_c": None}),
    ("2x3S 5000 mAh", {"series": None}),
    ("3S 2200 Ah", {"capacity_ah": None}),
    ("3S 2200 mA 25C", {"continuous_a": None, "capacity_ah": None}),
    ("4S 1500 2024", {"capacity_ah": None}),
    ("Deck BEC 5A 3S 2200mAh 25C", {"label_c": 25}),
    ("XT30(2+2) 4S 650mAh", {"plug": None}),
    ("3S Lipo 11.1V 2200mAh 25C-50C Charge: 2C", {"label_c": 25, "label_burst_c": 50, "charge_c": 2}),
    ("3S-2200-35C", {"series": 3, "capacity_ah": 2.2, "label_c": 35}),
    ("4S_1500_100C", {"series": 4, "capacity_ah": 1.5, "label_c": 100}),
    ("2200/3S/25C", {"series": 3, "capacity_ah": 2.2, "label_c": 25}),
    ("1300mAh4S95C", {"series": 4, "capacity_ah": 1.3, "label_c": 95}),
    ("3S 2200 mAh 25 ~ 50 C", {"label_c": 25, "label_burst_c": 50}),
    ("4S 4000mAh 30C/40C(10s)", {"series": 4, "label_c": 30, "label_burst_c": 40}),
    ("15C continuous, 30C 10 sec burst 6S 16000", {"label_c": 15, "label_burst_c": 30, "series": 6}),
    ("3S 2200mAh charge 2.2 A (1C) discharge 55A (25C)", {"charge_c": 1, "label_c": 25}),
    ("Li-Ion 3S2P 18650 6000mAh 10.8V 20A", {"label_c": 3.33, "cell_size": "18650"}),
    ("3S 2200mAh 25C XT60+JST-XH", {"plug": "xt60", "balance_plug": "xh"}),
    ("5C/50C 3S 2200mAh", {"label_c": None}),
    ("50C 5C 3S 2200mAh", {"label_c": None}),
    ("3S 2200mAh 25n-50C", {"label_c": None}),
    ("20C 6P 22.2V 450mAh", {"parallel": None, "series": 6}),
    (
        "3S 11.1 V 850mAh 70-140C JST-XH XT30 79 g 57x30x25",
        {
            "length_mm": 57,
            "mass_g": 79,
            "label_c": 70,
            "label_burst_c": 140,
            "plug": "xt30",
            "balance_plug": "xh",
        },
    ),
]

ASKED = [
    ("4S charge 15C 2200mAh 80C", "charge_c"),
    ("2200mAh 5C 3S", "charge_c"),
    ("3C charge 5C 3S 2200mAh", "label_c"),
    ("2x3S 5000 mAh", "series"),
    ("3S 2200 Ah", "capacity_ah"),
    ("4S 1500 2024", "capacity_ah"),
    ("3S 2200 mA 25C", "capacity_ah"),
    ("XT30(2+2) 4S 650mAh", "plug"),
    ("LiPo H 4S 1500mAh", "chemistry"),
    ("80C burst 10S 1300mAh", "series"),
    ("3S 5000mAh 2A", "label_c"),
    ("3S 2200mAh charge 40A", "charge_c"),
]


class OddLabels(SimpleTestCase):
    def test_many_odd_labels(self):
        """Bare capacities, plug spellings, sizes of cells, words on either side of a rate, prices."""
        self.assertGreaterEqual(len(ODD), 60)
        for line, expected in ODD:
            with self.subTest(label=line):
                values = read_label(line).values
                self.assertEqual({k: values.get(k) for k in expected}, expected)

    def test_what_can_mean_two_things_is_asked(self):
        """By the field it belongs to, and the field stays empty."""
        for line, field in ASKED:
            with self.subTest(label=line):
                reading = read_label(line)
                self.assertIn(field, reading.asked)
                if field != "chemistry":  # one is always taken, and told
                    self.assertNotIn(field, reading.values)

    def test_a_charge_rate_above_ten_is_never_taken(self):
        """Wherever the word stands."""
        for line in (
            "charge 50C",
            "50C charge",
            "charge: 12C",
            "max charge 20C 3S",
            "charge 40A 2200mAh",
            "25C charge rate 40C",
        ):
            with self.subTest(line):
                self.assertLessEqual(float(read_label(f"3S {line}").values.get("charge_c", 0)), 10)

    def test_unknown_words_are_neither_plugs_nor_currents(self):
        """They stay unread."""
        for word in ("XT61", "EC8", "JST 1.25", "QQ7", "A99", "PH1.25", "XTEE60"):
            with self.subTest(word):
                reading = read_label(f"3S 2200mAh 25C {word}")
                self.assertNotIn("plug", reading.values)
                self.assertNotIn("continuous_a", reading.values)
                self.assertEqual(reading.unread, word)

    def test_words_left_without_a_figure_are_told(self):
        """Then the figures may have gone to the wrong ones."""
        self.assertRegex(" ".join(read_label("3S mAh 25C").contradictions), "Nothing could be made of “mAh”")

    def test_a_number_taken_without_its_unit_is_told(self):
        """And one that stands in two parts."""
        self.assertIn("2600 mAh, from the bare “2600”.", read_label("4S 2600").filled)
        self.assertRegex(" ".join(read_label("4S 2 600 mAh").filled), "one number, 2600 mAh")

    def test_every_value_names_its_words(self):
        """So that each field can show what it was read from."""
        for line, _ in ODD:
            reading = read_label(line)
            for name in reading.values:
                self.assertTrue(reading.words[name], f"{line}: {name}")


class MadeLabels(SimpleTestCase):
    def share_wrong(self, slips, change=lambda line, rng: line, count=700):
        wrong = []
        for seed in range(count):
            rng = random.Random(f"{slips} {seed}")
            of = truth(rng)
            line = change(label(of, rng), rng)
            for _ in range(slips):
                line = misspelt(line, rng)
            found = wrong_in_silence(read_label(line), of)
            if found:
                wrong.append((line, found))
        return len(wrong) / count, wrong[:5]

    def test_shuffled_labels_are_never_wrong_in_silence(self):
        """In any order and spelling."""
        share, shown = self.share_wrong(0)
        self.assertLessEqual(share, 0.002, shown)

    def test_misspelt_labels_are_never_wrong_in_silence(self):
        """With one slip and with two."""
        for slips in (1, 2):
            share, shown = self.share_wrong(slips)
            self.assertLessEqual(share, 0.005, shown)

    def test_most_are_read_whole(self):
        """A reader that asks about everything would pass the tests above: cells, capacity and C are
        mostly read."""
        whole = 0
        for seed in range(600):
            rng = random.Random(f"whole {seed}")
            values = read_label(label(truth(rng), rng)).values
            whole += all(f in values for f in ("series", "capacity_ah", "label_c"))
        self.assertGreater(whole / 600, 0.97)

    def test_even_words_torn_apart_are_mostly_told(self):
        """Every word anywhere: a label that no maker prints."""

        def torn(line, rng):
            words = line.split()
            rng.shuffle(words)
            return " ".join(words)

        share, shown = self.share_wrong(0, torn)
        self.assertLessEqual(share, 0.012, shown)

    def test_the_judge_sees_a_wrong_reading(self):
        """The measure itself: a value that is not the truth, and no word about it."""
        rng = random.Random(5)
        of = truth(rng)
        reading = read_label(f"{of.values['series'] + 1}S {round(1000 * of.values['capacity_ah'])}mAh")
        self.assertIn("series", wrong_in_silence(reading, of))
