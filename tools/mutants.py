"""Small errors planted in the rules, and which no test notices: python tools/mutants.py run "nail_count.trade.rules.*".

The same as mutmut's own command, but for errors in sentences: what a rule says is no figure and no comparison.
"""

from __future__ import annotations

from mutmut.__main__ import cli
from mutmut.mutation import file_mutation, mutators

OF_SENTENCES = (
    mutators.operator_string,
    mutators.operator_dict_arguments,
    mutators.operator_arg_removal,
    mutators.operator_assignment,
    mutators.operator_symmetric_string_methods_swap,
    mutators.operator_unsymmetrical_string_methods_swap,
)
"""Errors in texts, and those mypy finds: an argument left out, a value that is None."""

if __name__ == "__main__":
    operators = [(kind, operator) for kind, operator in mutators.mutation_operators if operator not in OF_SENTENCES]
    file_mutation.mutation_operators = operators  # type: ignore[attr-defined]
    cli()
