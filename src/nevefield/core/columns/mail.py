"""Mail addresses as RFC 5322 has them; whether mail arrives is not asked."""

from __future__ import annotations

__all__ = ["why_no_mail"]


def why_no_mail(text: str) -> str:
    """Say why a text is no mail address; "" where it is one.

    >>> why_no_mail("ada@example.org"), why_no_mail("ada") != ""
    ('', True)
    """
    # its patterns take long to compile, and most files have none but plain addresses
    import email_validator

    # domains for examples and tests are as good as any here
    email_validator.SPECIAL_USE_DOMAIN_NAMES.clear()
    try:
        email_validator.validate_email(text, check_deliverability=False, test_environment=True)
    except email_validator.EmailNotValidError as error:
        return str(error)
    return ""
