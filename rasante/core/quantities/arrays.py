"""The one type of array that the core computes with."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

#: Floating-point numbers, of the shape that each function states.
Array = npt.NDArray[np.float64]
