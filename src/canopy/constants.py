"""Constants of the job, each stated once with its source."""

SECONDS_PER_HOUR = 3600.0
"""Exact."""

MOL_PER_UMOL = 1e-6
"""Exact (SI prefix)."""

CM2_PER_M2 = 1e4
"""Exact."""

BTU_PER_H_PER_W = 3.412
"""NIST SP 811 (2008), appendix B.8: 1 Btu(IT)/h = 0.293 071 1 W."""

UMOL_PER_J_AND_NM = 119.627
"""nm umol J-1: h c N_A, CODATA 2018 exact constants (6.62607015e-34 J s x 299 792 458 m s-1 x
6.02214076e23 mol-1 = 0.1196266 J m mol-1)."""

NINETY = 1.6448536269514722
"""Standard deviations on either side that hold 90 % of a normal distribution. Closed form."""
