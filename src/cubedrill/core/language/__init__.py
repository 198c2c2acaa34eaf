"""The language of steps: one declaration a kind writes its sentence and reads it back."""
