"""What every test shares: no test fails for being slow on a busy machine."""

from hypothesis import settings

settings.register_profile("calm", deadline=None)
settings.load_profile("calm")
