"""Bring data of an earlier format to the present one, one step a module, from dict to dict."""
