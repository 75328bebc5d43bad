"""Reference evapotranspiration over a grid of inputs by an independent library.

Writes reference_et0.csv, which handbook_weather.rs compares with. Needs the package pyet (3-clause
or MIT licensed, general-purpose evapotranspiration formulas) from the Python registry; the test
itself needs no Python:

    pip install pyet && python reference_et0.py > reference_et0.csv
"""

import itertools

import pandas as pd
import pyet

print("latitude,elevation,day,tmin,tmax,solar,wind,vapour_pressure,penman_monteith,hargreaves")
grid = itertools.product(
    (-35.0, 0.0, 42.5, 60.0),
    (0.0, 800.0),
    ("2023-01-20", "2023-04-15", "2023-07-10", "2023-10-05"),
    ((2.0, 12.0), (12.0, 27.0), (20.0, 38.0)),
    (6.0, 14.0, 22.0),
    (0.8, 3.5),
)
for latitude, elevation, day, (tmin, tmax), solar, wind in grid:
    index = pd.DatetimeIndex([day])
    one = lambda value: pd.Series([value], index=index)
    radians = latitude * 3.141592653589793 / 180
    extraterrestrial = pyet.extraterrestrial_r(index, radians).iloc[0]
    # A day brighter than its clear sky tells nothing of the formula.
    if solar > (0.75 + 2e-5 * elevation) * extraterrestrial:
        continue
    vapour = 0.6 * 0.6108 * 2.718281828459045 ** (17.27 * tmin / (tmin + 237.3))
    mean = one((tmin + tmax) / 2)
    penman = pyet.pm_fao56(
        mean, one(wind), rs=one(solar), elevation=elevation, lat=radians,
        tmax=one(tmax), tmin=one(tmin), ea=one(vapour), clip_zero=False,
    ).iloc[0]
    hargreaves = pyet.hargreaves(mean, one(tmax), one(tmin), lat=radians, clip_zero=False).iloc[0]
    print(f"{latitude},{elevation},{day},{tmin},{tmax},{solar},{wind},{vapour:.9f},{penman:.6f},{hargreaves:.6f}")
