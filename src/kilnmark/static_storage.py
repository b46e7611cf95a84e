"""Static files named by their content; the imports inside ES modules are rewritten to match, and
the scripts of each page stand in one file too.
"""

from pathlib import Path

from whitenoise.storage import CompressedManifestStaticFilesStorage

from kilnmark.bundles import bundle


class HashedModules(CompressedManifestStaticFilesStorage):
    support_js_module_import_aggregation = True

    def post_process(self, paths, dry_run=False, **options):
        """All that was collected, with the bundles."""
        if not dry_run:
            paths = paths | {name: (self, name) for name in bundle(Path(self.location))}
        yield from super().post_process(paths, dry_run, **options)

    def has(self, name: str) -> bool:
        """Whether a file was collected."""
        return self.hash_key(name) in self.hashed_files
