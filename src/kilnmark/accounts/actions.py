"""Every change to an account."""

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError

from kilncore.errors import KilnError


def set_password(name: str, password: str) -> bool:
    """Make the account of that name if there is none, and set its password. True if it was made.

    KilnError for a name or password that Django's own rules refuse; nothing is made then.
    """
    model = get_user_model()
    user = model.objects.filter(username=name).first() or model(username=name)
    fresh = user.pk is None
    try:
        validate_password(password, user)
        user.set_password(password)
        user.full_clean()
    except ValidationError as error:
        raise KilnError("This account cannot be made.", " ".join(error.messages)) from error
    user.save()
    return fresh
