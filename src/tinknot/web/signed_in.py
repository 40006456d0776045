"""The signed-in person, as Flask-Login wants it."""

from flask_login import UserMixin

from tinknot.services.accounts import Person


class SessionUser(UserMixin):  # type: ignore[misc]  # Flask-Login ships no types
    """A person with the id a session keeps: it ends when the password changes."""

    def __init__(self, person: Person) -> None:
        self.person = person
        self.id = f"{person.id}:{person.session_key}"
