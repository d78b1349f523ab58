"""What a machine's own sensors told while it walked, beside its plan."""

from bustle.core.trials.traces.heard import Heard, heard
from bustle.core.trials.traces.trace import Trace
from bustle.core.trials.traces.trace_tells import Earlier, earlier_of, trace_tells

__all__ = ["Earlier", "Heard", "Trace", "earlier_of", "heard", "trace_tells"]
