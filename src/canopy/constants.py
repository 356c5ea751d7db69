"""Constants of the job, each stated once with its source."""

SECONDS_PER_HOUR = 3600.0
"""Exact."""

MOL_PER_UMOL = 1e-6
"""Exact (SI prefix)."""

CM2_PER_M2 = 1e4
"""Exact."""

BTU_PER_H_PER_W = 3.412
"""NIST SP 811 (2008), appendix B.8: 1 Btu(IT)/h = 0.293 071 1 W."""
