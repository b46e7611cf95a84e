"""Static files named by their content; the imports inside ES modules are rewritten to match."""

from whitenoise.storage import CompressedManifestStaticFilesStorage


class HashedModules(CompressedManifestStaticFilesStorage):
    support_js_module_import_aggregation = True
