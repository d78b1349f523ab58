"""What arrays are called in annotations: of numbers, of flags, of places in other arrays."""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]
Places = NDArray[np.intp]
