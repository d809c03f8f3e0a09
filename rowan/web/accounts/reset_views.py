"""A forgotten password: a link by mail that works once, for some hours. Who asks learns nothing about who signs in here."""

from __future__ import annotations

from datetime import timedelta

from django.contrib.auth.forms import PasswordResetForm, SetPasswordForm
from django.contrib.auth.views import (
    PasswordResetCompleteView,
    PasswordResetConfirmView,
    PasswordResetDoneView,
    PasswordResetView,
)
from django.http import HttpResponse
from django.urls import reverse_lazy
from django.utils import timezone

from rowan.web.accounts.models import Deed, User
from rowan.web.accounts.services import end_sessions, note

MOST_ASKED, ASKED_WITHIN = 3, timedelta(hours=1)
ASKED = "asked for a new password"


class Ask(PasswordResetView):
    template_name = "accounts/reset.html"
    email_template_name = "accounts/reset.txt"
    subject_template_name = "accounts/reset_subject.txt"
    success_url = reverse_lazy("accounts:reset_sent")

    def form_valid(self, form: PasswordResetForm) -> HttpResponse:
        """Sends at most a few an hour to one address; the answer is the same whether or not."""
        who = User.objects.filter(email__iexact=form.cleaned_data["email"], is_active=True).first()
        if who is not None and who.firm is not None:
            lately = Deed.objects.filter(person=who, words=ASKED, at__gt=timezone.now() - ASKED_WITHIN)
            if lately.count() >= MOST_ASKED:
                return HttpResponse(status=302, headers={"Location": str(self.success_url)})
            note(who.firm, who, ASKED)
        return super().form_valid(form)


class Sent(PasswordResetDoneView):
    template_name = "accounts/reset_sent.html"


class Confirm(PasswordResetConfirmView):
    template_name = "accounts/reset_confirm.html"
    success_url = reverse_lazy("accounts:reset_done")

    def form_valid(self, form: SetPasswordForm[User]) -> HttpResponse:
        """A new password ends every session there is."""
        answer = super().form_valid(form)
        who = self.user
        if who is not None:
            end_sessions(who)
            if who.firm is not None:
                note(who.firm, who, "set a new password by mail")
        return answer


class Done(PasswordResetCompleteView):
    template_name = "accounts/reset_done.html"
