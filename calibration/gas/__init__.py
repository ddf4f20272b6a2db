"""Gas: concentrations, mixtures, amounts, and getting rid of air."""

from calibration.gas import amounts, concentration, mixture, purging  # noqa: F401
