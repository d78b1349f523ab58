"""What a walk comes to: measures, balance, loads, judgements."""
