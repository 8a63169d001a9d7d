#!/usr/bin/env python3
"""The strain chain against scipy on the same file in the same run: detrend with break points, zero-phase filter, and a
rainflow count that takes all closed inner ranges out at once, pass after pass. Wants python3-scipy; not part of setup.

usage: bench/spectrum_against_scipy.py FORTITORCTL [HOURS]
"""
import subprocess, sys, tempfile, time
import numpy as np
from scipy.signal import butter, detrend, sosfiltfilt

ctl, hours = sys.argv[1], float(sys.argv[2]) if len(sys.argv) > 2 else 24.0
rate = 300.0


def count(z, gate):
    turns = z[np.concatenate(([True], (np.diff(z)[:-1] * np.diff(z)[1:]) < 0, [True]))]
    ranges = []
    while True:
        r = np.abs(np.diff(turns))
        inner = np.flatnonzero((r[1:-1] <= r[:-2]) & (r[1:-1] <= r[2:])) + 1
        if len(inner) == 0:
            break
        keep = inner[np.concatenate(([True], np.diff(inner) > 2))]
        ranges.append(r[keep])
        mask = np.ones(len(turns), bool)
        mask[keep] = mask[keep + 1] = False
        turns = turns[mask]
    ranges = np.concatenate(ranges) if ranges else np.zeros(0)
    return ranges[ranges > gate]


with tempfile.TemporaryDirectory() as folder:
    subprocess.run([ctl, "simulate", "fatigue-spectrum", "--seed", "1", "--rate", "300", "--hours", str(hours), "--out", folder],
                   check=True, stdout=subprocess.DEVNULL)
    path = folder + "/strain-1.f32"
    np.fromfile(path, "<f4").sum()  # into the page cache
    t = time.perf_counter()
    subprocess.run([ctl, "spectrum", path, "--rate", "300", "--json"], check=True, stdout=subprocess.DEVNULL)
    ours = time.perf_counter() - t
    t = time.perf_counter()
    x = np.nan_to_num(np.fromfile(path, "<f4").astype(float))
    x = detrend(x, bp=np.arange(0, len(x), int(3600 * rate)))
    z = sosfiltfilt(butter(4, 2, fs=rate, output="sos"), x)
    n = len(count(z, 0.5))
    theirs = time.perf_counter() - t
    print(f"{hours:g} h at 300 Hz: chain {ours:.2f} s, scipy {theirs:.2f} s ({n} cycles), {theirs / ours:.1f} times as fast")
