// Made from core's reading of figures by `make types`: change it there.
export const UNITS = {
 "": {
  "s": 1.0,
  "cells": 1.0,
  "cell": 1.0,
  "%": 0.01
 },
 "cells": {
  "s": 1.0,
  "cells": 1.0,
  "cell": 1.0,
  "zellen": 1.0
 },
 "Ah": {
  "ah": 1.0,
  "mah": 0.001
 },
 "mAh": {
  "mah": 1.0,
  "ah": 1000.0
 },
 "g": {
  "g": 1.0,
  "gr": 1.0,
  "gm": 1.0,
  "gram": 1.0,
  "grams": 1.0,
  "gramm": 1.0,
  "kg": 1000.0,
  "kilo": 1000.0,
  "kilos": 1000.0,
  "oz": 28.349523,
  "ounce": 28.349523,
  "ounces": 28.349523,
  "lb": 453.59237,
  "lbs": 453.59237,
  "pound": 453.59237,
  "pounds": 453.59237
 },
 "mm": {
  "mm": 1.0,
  "cm": 10.0,
  "m": 1000.0,
  "in": 25.4,
  "inch": 25.4,
  "inches": 25.4,
  "\"": 25.4
 },
 "C": {
  "c": 1.0
 },
 "mΩ": {
  "mohm": 1.0,
  "mohms": 1.0,
  "milliohm": 1.0,
  "milliohms": 1.0,
  "ohm": 1000.0,
  "ohms": 1000.0,
  "mω": 1.0,
  "ω": 1000.0
 },
 "AWG": {
  "awg": 1.0,
  "ga": 1.0,
  "gauge": 1.0
 },
 "A": {
  "a": 1.0,
  "amp": 1.0,
  "amps": 1.0,
  "ampere": 1.0,
  "amperes": 1.0,
  "ma": 0.001
 },
 "mA": {
  "ma": 1.0,
  "a": 1000.0,
  "amp": 1000.0,
  "amps": 1000.0
 },
 "V": {
  "v": 1.0,
  "volt": 1.0,
  "volts": 1.0,
  "mv": 0.001
 },
 "W": {
  "w": 1.0,
  "watt": 1.0,
  "watts": 1.0,
  "kw": 1000.0
 },
 "Wh": {
  "wh": 1.0,
  "kwh": 1000.0
 },
 "min": {
  "s": 0.016666666666666666,
  "sec": 0.016666666666666666,
  "secs": 0.016666666666666666,
  "second": 0.016666666666666666,
  "seconds": 0.016666666666666666,
  "sek": 0.016666666666666666,
  "m": 1.0,
  "min": 1.0,
  "mins": 1.0,
  "minute": 1.0,
  "minutes": 1.0,
  "minuten": 1.0,
  "h": 60.0,
  "hr": 60.0,
  "hrs": 60.0,
  "hour": 60.0,
  "hours": 60.0,
  "std": 60.0,
  "d": 1440.0,
  "day": 1440.0,
  "days": 1440.0,
  "ms": 1.6666666666666667e-05
 },
 "s": {
  "s": 1.0,
  "sec": 1.0,
  "secs": 1.0,
  "second": 1.0,
  "seconds": 1.0,
  "sek": 1.0,
  "m": 60.0,
  "min": 60.0,
  "mins": 60.0,
  "minute": 60.0,
  "minutes": 60.0,
  "minuten": 60.0,
  "h": 3600.0,
  "hr": 3600.0,
  "hrs": 3600.0,
  "hour": 3600.0,
  "hours": 3600.0,
  "std": 3600.0,
  "d": 86400.0,
  "day": 86400.0,
  "days": 86400.0,
  "ms": 0.001
 },
 "h": {
  "s": 0.0002777777777777778,
  "sec": 0.0002777777777777778,
  "secs": 0.0002777777777777778,
  "second": 0.0002777777777777778,
  "seconds": 0.0002777777777777778,
  "sek": 0.0002777777777777778,
  "m": 0.016666666666666666,
  "min": 0.016666666666666666,
  "mins": 0.016666666666666666,
  "minute": 0.016666666666666666,
  "minutes": 0.016666666666666666,
  "minuten": 0.016666666666666666,
  "h": 1.0,
  "hr": 1.0,
  "hrs": 1.0,
  "hour": 1.0,
  "hours": 1.0,
  "std": 1.0,
  "d": 24.0,
  "day": 24.0,
  "days": 24.0,
  "ms": 2.7777777777777776e-07
 },
 "°C": {
  "°c": 1.0,
  "c": 1.0,
  "degc": 1.0,
  "celsius": 1.0,
  "°": 1.0,
  "deg": 1.0,
  "degrees": 1.0,
  "°f": [
   0.5555555555555556,
   -17.77777777777778
  ],
  "f": [
   0.5555555555555556,
   -17.77777777777778
  ],
  "degf": [
   0.5555555555555556,
   -17.77777777777778
  ],
  "fahrenheit": [
   0.5555555555555556,
   -17.77777777777778
  ]
 },
 "rpm": {
  "rpm": 1.0,
  "krpm": 1000.0,
  "1/min": 1.0,
  "/min": 1.0,
  "u/min": 1.0
 },
 "rpm/V": {
  "kv": 1.0,
  "rpm/v": 1.0,
  "rpm/volt": 1.0
 },
 "dm²": {
  "sqdm": 1.0,
  "sqcm": 0.01,
  "sqin": 0.064516,
  "sq in": 0.064516
 },
 "km/h": {
  "km/h": 1.0,
  "kmh": 1.0,
  "kph": 1.0,
  "m/s": 3.6,
  "ms": 3.6,
  "mph": 1.609344,
  "mi/h": 1.609344,
  "kn": 1.852,
  "knots": 1.852,
  "kt": 1.852
 },
 "money": {
  "eur": 1.0,
  "euro": 1.0,
  "usd": 1.0,
  "gbp": 1.0,
  "chf": 1.0,
  "sek": 1.0,
  "nok": 1.0,
  "dkk": 1.0,
  "pln": 1.0,
  "kr": 1.0,
  "fr": 1.0,
  "€": 1.0,
  "$": 1.0,
  "£": 1.0,
  "zł": 1.0
 }
} as const;
export const SAID = {
 "": "a bare number",
 "cells": "cells",
 "Ah": "mAh or Ah",
 "mAh": "mAh or Ah",
 "g": "g, kg, oz or lb",
 "mm": "mm, cm, m or in",
 "C": "C",
 "mΩ": "mΩ or Ω",
 "AWG": "AWG",
 "A": "A or mA",
 "mA": "mA or A",
 "V": "V or mV",
 "W": "W or kW",
 "Wh": "Wh or kWh",
 "min": "min, s, h or 4:30",
 "s": "s, min or 4:30",
 "h": "h, min or 1:30",
 "°C": "°C or °F",
 "rpm": "rpm",
 "rpm/V": "rpm/V",
 "dm²": "dm², cm² or in²",
 "km/h": "km/h, m/s or mph",
 "money": "an amount"
} as const;
export const COARSE = [
 "cell",
 "cells",
 "g",
 "gr",
 "gram",
 "grams",
 "kv",
 "ma",
 "mah",
 "mv",
 "rpm",
 "rpm/v",
 "s"
] as const;
export const COARSE_BARE = [
 "",
 "AWG",
 "cells",
 "g",
 "mA",
 "mAh",
 "rpm",
 "rpm/V"
] as const;
export const ASKED = [
 "W",
 "h",
 "min",
 "mm",
 "money",
 "s"
] as const;
export const PARTS = [
 2,
 3,
 4,
 5,
 8,
 10,
 16,
 32,
 64
] as const;
export const LEAST_MAH = 20.0 as const;
export const MOST_LETTERS = 40 as const;
