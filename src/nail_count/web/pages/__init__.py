"""The screens, one package each."""
