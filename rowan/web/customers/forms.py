"""Forms about customers and sites."""

from __future__ import annotations

from django import forms

from rowan.core.terms.language import Message
from rowan.web.customers.models import Customer, Site


class CustomerForm(forms.ModelForm):  # type: ignore[type-arg]  # not subscriptable at run time
    class Meta:
        model = Customer
        fields = ("name", "telephone", "mail", "address", "notes")
        error_messages = {"name": {"required": Message("A customer needs a name.")}}


class SiteForm(forms.ModelForm):  # type: ignore[type-arg]  # not subscriptable at run time
    latitude = forms.FloatField(label="latitude, ° north", required=False, min_value=-90, max_value=90)
    longitude = forms.FloatField(label="longitude, ° east", required=False, min_value=-180, max_value=180)

    class Meta:
        model = Site
        fields = ("address", "town", "access", "contact", "contact_telephone", "latitude", "longitude")
        error_messages = {"address": {"required": Message("A site needs an address.")}}
