"""The application's settings, with the data in a temporary folder and the static files where they
lie.
"""

import os
import tempfile

os.environ["KILNMARK_DATA"] = tempfile.mkdtemp(prefix="kilnmark-tests-")
os.environ["KILNMARK_STATIC"] = "django.contrib.staticfiles.storage.StaticFilesStorage"

from kilnmark.settings import *  # noqa: E402, F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
