/** The trade's shorthand in plain words, for the glossary and wherever a term is first met. */
export const WORDS: Record<string, string> = {
  S: "Cells in series: 4S means four cells one after the other. They add volts.",
  P: "Strings in parallel: 2P means two strings side by side. They add capacity and amps.",
  mAh: "Milliamp-hours, the size of the tank: 3000 mAh give 3 amps for an hour. 1000 mAh = 1 Ah.",
  C: "Amps as a multiple of the capacity: 20C of a 3 Ah pack are 60 A. Labels are optimistic.",
  "honest C": "The C that the measured resistance allows: each cell turns 6.25 W per Ah into heat.",
  "thermal C": "The steady C at which this pack in this bay just reaches 60 °C\u2060 at landing.",
  loading: "What a part carries, divided by what it can take. Over 100 % it is overloaded.",
  RMS: "A kind of average of the amps that counts peaks more, because heat goes with their square.",
  sag: "How far the volts fall under load, and recover afterwards.",
  kV: "Motor turns per minute for each volt, without load.",
  LiHV: "Lithium cells made for 4.35 V at full charge instead of 4.20 V. They need their own charge setting.",
  "cut-off": "The volts at which a speed controller stops the motor to save the pack.",
  "landing point": "When to stop: the share of the charge that the house rules let you use.",
  "look-alike": "Plugs of different sizes that are taken for each other, and do not mate.",
  "balance plug": "The thin wires by which a charger reads each cell: one wire more than cells in series.",
  "end volts": "Where a lithium charge stops. More is an overcharge; NiMH ends at its peak instead.",
  "house rules":
    "Your own practice as numbers: how much to use, when to store, when to retire. Schools differ.",
  storage: "The charge at which a lithium pack ages least: 3.80 to 3.85 V a cell for LiPo.",
  "like with like": "Resistances read at a similar charge, brought to 25 °C\u2060; others are not compared.",
  AWG: "Wire gauge: the smaller the number, the thicker the wire.",
};
