"""The solver of plans of days: the same answer each time, whatever a model looks like."""

from __future__ import annotations

from typing import Any


def solved_in(model: Any, seconds: float, **parameters: object) -> tuple[Any, bool]:
    """Solve a model for so long [s], and return the solver and whether it has a solution.

    Args:
        parameters: further ones of the solver.
    """
    from ortools.sat.python import cp_model  # takes a second: only where a plan is made

    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1  # the same plan each time, however many processors there are
    solver.parameters.random_seed = 1
    solver.parameters.max_time_in_seconds = max(seconds, 0.05)
    for name, value in parameters.items():
        setattr(solver.parameters, name, value)
    try:
        status = solver.solve(model)
    except IndexError:  # OR-Tools 9.15 breaks off while it simplifies some models, such as three places in four hours
        solver.parameters.cp_model_presolve = False
        status = solver.solve(model)
    return solver, status in (cp_model.OPTIMAL, cp_model.FEASIBLE)
