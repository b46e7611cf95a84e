"""The parts of a document: immutable pydantic models, and the registries that say what there is."""
