"""The client's side: days compiled, practice handed in, check-ins, answers, reminders."""
