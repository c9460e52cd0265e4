"""Figures far from their kind, asked back with the likely slip: of answers, of gear, of runs and charges."""
