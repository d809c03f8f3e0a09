"""Somebody who may sign in: of a firm that is there, or of a new one. The password is asked for, not written down."""

from __future__ import annotations

from argparse import ArgumentParser
from getpass import getpass
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError
from django.core.validators import validate_email
from django.db import transaction

from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.roles import Role
from rowan.web.accounts.services import note


class Command(BaseCommand):
    """`bin/rowan manage add_person --firm … --name … --mail … --role …`."""

    help = "Add somebody who may sign in; the firm is made where there is none of that name."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Firm, name and mail address."""
        parser.add_argument("--firm", required=True)
        parser.add_argument("--name", required=True)
        parser.add_argument("--mail", required=True)
        parser.add_argument("--role", choices=Role.values, help="of a new firm's first person: lead; else installer")

    def handle(self, *args: Any, **options: Any) -> None:
        """Asks for the password twice, and makes the person. Raises CommandError for what cannot be."""
        mail = options["mail"].strip()
        try:
            validate_email(mail)
        except ValidationError as error:
            raise CommandError(f"{mail} is no mail address") from error
        if User.objects.filter(email__iexact=mail).exists():
            raise CommandError(f"{mail} signs in already")
        password = getpass("Password: ")
        if getpass("Once more: ") != password:
            raise CommandError("the two are not the same")
        person = User(email=mail, name=options["name"].strip())
        try:
            validate_password(password, person)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from error
        with transaction.atomic():
            firm, made = Firm.objects.get_or_create(name=options["firm"].strip())
            role = options["role"] or (Role.LEAD if made else Role.INSTALLER)
            User.objects.create_user(mail, password, name=person.name, firm=firm, role=role)
            note(firm, None, f"{mail} was added at the machine, as {role}")
        self.stdout.write(f"{mail} signs in for {firm.name}" + (", a new firm" if made else ""))
