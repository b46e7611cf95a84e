from tests.checks.chromium import browser, drawn  # noqa: F401
