"""The signed-in person, as Flask-Login wants it."""

from flask_login import UserMixin

from tinknot.services.accounts import Person


class SessionUser(UserMixin):  # type: ignore[misc]  # Flask-Login ships no types
    """A person with what the cookie of this sign-in says."""

    def __init__(self, person: Person, token: str) -> None:
        self.person = person
        self.id = token
