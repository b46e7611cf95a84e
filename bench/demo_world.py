"""The demo's world in the data folder that KILNMARK_DATA names: `python -m bench.demo_world`."""

import os


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kilnmark.settings")
    import django

    django.setup()
    from kilnmark.demo import set_up
    from kilnmark.server import prepare

    prepare()
    set_up()


if __name__ == "__main__":
    main()
