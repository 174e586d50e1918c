"""The rules and arithmetic of the job, without any interface, storage or clock.

Everything here takes plain numbers in SI and gives plain numbers in SI. Names carry their unit as a suffix
(``_c``, ``_k``, ``_pa``, ``_m3s``, ``_w`` ...); shares run from 0 to 1.
"""

__version__ = "0.1.0"
