#!/usr/bin/env python3
"""Values pasted into tests/core/statistics and tests/core/fatigue/chain_test.cpp. Versions: see README.md.

  tests/reference/statistics.py        prints each by the name of its test
"""
import math

import numpy as np
from scipy import optimize, signal, stats

THREE = ([24.5, 23.5, 26.4, 27.1, 29.9], [28.4, 34.2, 29.5, 32.2, 30.1], [26.1, 28.3, 24.3, 26.2, 27.8, 25.9, 27.0])
EIGHT = [512.3, 518.9, 509.4, 521.7, 515.2, 530.8, 511.6, 517.3]
SIX = [498.2, 505.1, 511.9, 489.7, 501.4, 507.8]


def say(name, *values):
    print(name, *(repr(float(v)) for v in values))


def relation():
    x = np.array([180, 195, 210, 222, 240, 255, 270.0])
    y = np.array([590, 640, 675, 720, 760, 815, 850.0])
    r = stats.linregress(x, y)
    say("slope intercept r", r.slope, r.intercept, r.rvalue)
    say("errors p", r.stderr, r.intercept_stderr, r.pvalue)
    n = len(x)
    sd = math.sqrt(np.sum((y - r.intercept - r.slope * x) ** 2) / (n - 2))
    t = stats.t.ppf(0.975, n - 2)
    lever = 1 / n + (230 - x.mean()) ** 2 / np.sum((x - x.mean()) ** 2)
    say("residual_sd confidence(230) prediction(230)", sd, t * sd * math.sqrt(lever), t * sd * math.sqrt(1 + lever))


def groups():
    say("anova f p", *stats.f_oneway(*THREE))
    say("anova of two f", stats.f_oneway(EIGHT, SIX).statistic)
    for q, k, dof in ((3.5, 3, 10), (3.5, 3, 14), (1.0, 2, 5), (4.2, 8, 60), (6, 5, 1), (2.2, 12, 200)):
        say(f"studentized_range({q}, {k}, {dof})", stats.studentized_range.cdf(q, k, dof))
    for p, k, dof in ((0.95, 3, 10), (0.95, 4, 20), (0.99, 10, 7), (0.9, 6, 1000)):
        say(f"studentized_range_quantile({p}, {k}, {dof})", stats.studentized_range.ppf(p, k, dof))
    tukey = stats.tukey_hsd(*THREE)
    low = tukey.confidence_interval(0.95)
    for i, j in ((0, 1), (0, 2), (1, 2)):
        say(f"tukey_kramer {i} {j}: p low high", tukey.pvalue[i, j], low.low[i, j], low.high[i, j])
    for a, b in ((THREE[0], THREE[1]), (THREE[0], THREE[2]), (EIGHT, SIX), ([1, 2, 2, 3, 5, 5, 7], [2, 4, 5, 6, 8, 9])):
        ties = len(set(a + b)) < len(a + b)
        say("mann_whitney u p", *stats.mannwhitneyu(a, b, method="asymptotic" if ties else "exact"))
    for margin in (3, 5):
        moved = np.array(THREE[0])
        lower = stats.ttest_ind(moved + margin, THREE[2], equal_var=False, alternative="greater").pvalue
        upper = stats.ttest_ind(moved - margin, THREE[2], equal_var=False, alternative="less").pvalue
        say(f"equivalence within {margin}: p", max(lower, upper))


def likelihood():
    """Two groups with bounds (True: at least)."""
    data = ([(50, False), (53, False), (55, True), (51, False), (56, True)],
            [(57, False), (58, False), (60, True), (56, False), (59, False)])

    def loss(means, sd):
        if sd <= 0:
            return math.inf
        return -sum(stats.norm.logsf(x, m, sd) if bound else stats.norm.logpdf(x, m, sd)
                    for group, m in zip(data, means) for x, bound in group)

    options = {"xatol": 1e-11, "fatol": 1e-13, "maxiter": 20000, "maxfev": 20000}
    two = optimize.minimize(lambda p: loss(p[:2], p[2]), (53, 58, 3), method="Nelder-Mead", options=options)
    one = optimize.minimize(lambda p: loss((p[0], p[0]), p[1]), (56, 4), method="Nelder-Mead", options=options)
    chi2 = 2 * (one.fun - two.fun)
    say("likelihood_ratio means sd chi2 p", *two.x, chi2, stats.chi2.sf(chi2, 1))


def basis():
    twelve = [612, 655, 701, 590, 640, 688, 720, 575, 630, 660, 699, 710]
    shape, _, scale = stats.weibull_min.fit(twelve, floc=0)
    say("weibull shape scale", shape, scale)


def low_pass():
    """Butterworth of order 4, forth and back, with scipy's usual padding."""
    i = np.arange(400)
    x = (10 * np.sin(2 * np.pi * 1.3 * i / 50) + 3 * np.cos(2 * np.pi * 7 * i / 50) + 0.02 * i + ((i * 37) % 11) / 11.0)
    for cut, at in ((2.0, (0, 1, 7, 100, 200, 398, 399)), (0.5, (0, 7, 200, 399)), (12.0, (0, 7, 333, 399))):
        y = signal.sosfiltfilt(signal.butter(4, cut, fs=50, output="sos"), x)
        for k in at:
            say(f"low_pass {cut} Hz at {k}", y[k])


for part in (relation, groups, likelihood, basis, low_pass):
    part()
