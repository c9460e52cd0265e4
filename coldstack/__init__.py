"""Cold Stack: choosing, charging and keeping battery packs for radio-controlled models."""

__version__ = "0.1.0"
