from tests.checks.chromium import drawn  # noqa: F401
