"""Traces as CSV, out and in again, however they are written; and what is no trace."""

from __future__ import annotations

import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.trials.traces.stand_in import stand_in
from bustle.core.words.problems import InputRefused
from bustle.formats.trace_csv import MOST_LINES, read_trace, write_trace
from tests.projects import hexapod
from tests.seeded import SeededTest

LIMBS = ("L1", "L2")


class TraceCsv(SeededTest):
    def test_comes_back_as_it_went(self):
        trace = stand_in(evaluate(hexapod(), "Forward").reading, self.seed)
        back, over = read_trace(write_trace(trace), list(trace.feet))
        self.assertEqual(over, ())
        np.testing.assert_allclose(back.time_s, trace.time_s, atol=5e-4)
        for way, values in trace.leans_deg.items():
            np.testing.assert_allclose(back.leans_deg[way], values, atol=6e-3)
        for limb, values in trace.feet.items():
            np.testing.assert_allclose(back.feet[limb], values, atol=0.51)

    def test_is_read_as_controllers_and_spreadsheets_write_it(self):
        for text in (
            "time_s,roll_deg,l1\n0,1.5,300\n0.01,-2,310\n",
            "\ufeffTIME_MS;Roll_deg;L1;battery\r\n0;1,5;300;7,4\r\n10;-2;310;7,4\r\n\r\n",
            "time_s\troll_deg\tL1\n0\t1.5\t300\n0.01\t-2\t310\n",
        ):
            trace, over = read_trace(text.encode(), LIMBS)
            np.testing.assert_allclose(trace.time_s, [0.0, 0.01])
            np.testing.assert_allclose(trace.leans_deg["roll"], [1.5, -2.0])
            np.testing.assert_allclose(trace.feet["L1"], [300.0, 310.0])
            self.assertEqual(over, ("battery",) if "battery" in text else ())

    def test_what_is_none_is_refused_by_line_and_column(self):
        good = "time_s,roll_deg\n0,1\n"
        for data, words in (
            (b"", "time_s"),
            (b"\xff\xfe\x00", "UTF-8"),
            (b"time_s,roll_deg\n0,1\n1,\x00\n", "CSV|number"),
            (b"a,b\n1,2\n3,4\n", "time_s or time_ms"),
            (b"time_s,time_ms,L1\n1,2,3\n2,3,4\n", "time_s or time_ms"),
            (b"time_s,other\n0,1\n1,2\n", "L1, L2"),
            (b"time_s,L1,l1\n0,1,1\n1,2,1\n", "same thing"),
            (good.encode(), "fewer"),
            ((good + "0,2\n").encode(), "line 3, time_s.*later"),
            ((good + "1,x\n").encode(), "line 3, roll_deg.*'x'"),
            ((good + "1\n").encode(), "line 3, roll_deg"),
            ((good + "1,nan\n").encode(), "line 3, roll_deg"),
            ((good + "1,1e99\n").encode(), "line 3, roll_deg"),
            (("time_s,L1\n" + "".join(f"{n},1\n" for n in range(MOST_LINES + 1))).encode(), "more"),
            (b"time_s,L1\n" + b"1,1\n" * 600_000, "larger"),
            (b",".join([b"x"] * 100) + b"\n", "columns"),
            (b'time_s,L1\n"' + b"9" * 200_000, "CSV"),
        ):
            with self.subTest(data=data[:40]), self.assertRaises(InputRefused) as caught:
                read_trace(data, LIMBS)
            self.assertRegex("; ".join(f"{p.path} {p.sentence}" for p in caught.exception.problems), words)
