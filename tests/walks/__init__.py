"""Visits typed as practitioners do them: act by act, in their order, with their figures."""
