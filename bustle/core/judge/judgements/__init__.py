"""One judgement a file; `judge.registry` lists them."""
