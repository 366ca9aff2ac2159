"""Whole files in and out: bikes, answers, photos, PDF."""
