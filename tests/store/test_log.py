"""The log of trials in the database: numbers, what counts, what stays whatever comes after."""

from __future__ import annotations

import threading
import unittest

from bustle.core.trials.trial import Trial
from bustle.core.words.problems import InputRefused
from bustle.store import Missing, Store
from bustle.store.log import Log
from tests.projects import changed, hexapod
from tests.scratch import fresh_database


def trial(**said):
    return Trial(**{"motion": "Forward", "floor": "Tiles", "time_s": 10.0, **said})


class LogTest(unittest.TestCase):
    def setUp(self):
        self.store = Store(fresh_database())
        self.addCleanup(self.store.close)
        self.walker = self.store.create(hexapod()).walker_id
        self.log = Log(self.store)

    def test_a_trial_is_read_back_as_it_was_written_with_what_was_told_then(self):
        first = self.log.write(self.walker, 1, trial(along_mm=900.0, dragged=("L2",), note="squeaks"))
        self.store.save(self.walker, 1, changed(hexapod(), {"motions/0/lift_mm": 33.0, "motions/0/cycle_s": 1.6}))
        second = self.log.write(self.walker, 2, trial())
        again = self.log.trials(self.walker)
        self.assertEqual([kept.logged for kept in again], [second.logged, first.logged])
        # What a later revision tells changes nothing of it.
        self.assertEqual([kept.logged.planned.lift_mm for kept in again], [33.0, hexapod().motions[0].lift_mm])
        self.assertEqual(second.logged.changes, 2)
        self.assertEqual(first.logged.changes, 0)

    def test_what_changed_is_since_the_trial_before_of_the_same_motion_that_counts(self):
        self.log.write(self.walker, 1, trial())
        self.store.save(self.walker, 1, changed(hexapod(), {"motions/0/lift_mm": 33.0}))
        other = next(m.name for m in hexapod().motions if m.kind == "phase_gait" and m.name not in ("Forward", "Stand"))
        self.assertEqual(self.log.write(self.walker, 2, trial(motion=other)).logged.changes, 0)
        second = self.log.write(self.walker, 2, trial())
        self.assertEqual(second.logged.changed, ("motions Forward lift_mm",))
        self.log.withdraw(self.walker, second.logged.number, True)
        self.assertEqual(self.log.write(self.walker, 2, trial()).logged.changes, 1)

    def test_what_is_left_out_is_there_and_counts_again(self):
        number = self.log.write(self.walker, 1, trial()).logged.number
        for withdrawn in (True, False):
            self.log.withdraw(self.walker, number, withdrawn)
            self.assertEqual([kept.withdrawn for kept in self.log.trials(self.walker)], [withdrawn])
        with self.assertRaises(Missing):
            self.log.withdraw(self.walker, number + 1, True)

    def test_two_who_write_at_once_both_get_a_number_of_their_own(self):
        written = []

        def write():
            written.append(self.log.write(self.walker, 1, trial()).logged.number)

        writers = [threading.Thread(target=write) for _ in range(6)]
        for writer in writers:
            writer.start()
        for writer in writers:
            writer.join()
        self.assertEqual(sorted(written), [1, 2, 3, 4, 5, 6])

    def test_what_is_not_there_is_said(self):
        with self.assertRaises(Missing):
            self.log.write(self.walker, 7, trial())
        with self.assertRaises(Missing):
            self.log.trials(self.walker + 1)
        with self.assertRaises(InputRefused):
            self.log.write(self.walker, 1, trial(motion="Gallop"))
        self.assertEqual(self.log.trials(self.walker), [])


if __name__ == "__main__":
    unittest.main()
