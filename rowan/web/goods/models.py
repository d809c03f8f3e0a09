"""A firm's catalogue, its price list, and quotations as they were made: a quotation keeps its own lines, whatever changes later."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from rowan.core.goods.items import CollectorItem, ControllerItem, FixingItem, FluidItem, PipeItem, PumpItem, StoreItem
from rowan.core.terms.language import Message
from rowan.core.terms.strict import Strict
from rowan.web.accounts.models import Firm
from rowan.web.plans.models import Plan, Revision

ITEMS: dict[str, type[Strict]] = {
    "collector": CollectorItem, "store": StoreItem, "pump": PumpItem, "pipe": PipeItem,
    "fluid": FluidItem, "controller": ControllerItem, "fixing": FixingItem,
}  # fmt: skip
KINDS: dict[str, str] = {key: Message(key) for key in ITEMS}
# more than one of a kind
MANY: dict[str, str] = {
    key: Message(words)
    for key, words in {
        "collector": "collectors", "store": "stores", "pump": "pumps", "pipe": "pipes",
        "fluid": "fluids", "controller": "controllers", "fixing": "fixings",
    }.items()
}  # fmt: skip
# the input of a plan that holds one, or by whose note it is known
PATHS = {
    "collector": "collector.item", "store": "store.item", "pump": "run.pump", "pipe": "run.pipe",
    "fluid": "charge.fluid", "controller": "control.sensor_error_k", "fixing": "roof.fixing",
}  # fmt: skip


class Good(models.Model):
    """Something the firm sells, with its data sheet; a plan copies it, so that old jobs stay as built."""

    firm = models.ForeignKey(Firm, on_delete=models.CASCADE, related_name="goods")
    kind = models.CharField(max_length=10, choices=list(KINDS.items()))
    name = models.CharField(max_length=80)
    data = models.JSONField()
    price = models.FloatField(null=True)
    merchant = models.CharField(max_length=80, blank=True)
    withdrawn = models.DateField(null=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["kind", "name"]
        constraints = [models.UniqueConstraint(fields=["firm", "kind", "name"], name="good_once_a_firm")]

    def __str__(self) -> str:
        return self.name

    @property
    def item(self) -> Strict:
        """The item as a plan holds it."""
        return ITEMS[self.kind].model_validate(self.data)


class Price(models.Model):
    """What the firm pays for one of a part of the list, and where."""

    firm = models.ForeignKey(Firm, on_delete=models.CASCADE, related_name="prices")
    key = models.CharField(max_length=40)
    price = models.FloatField()
    merchant = models.CharField(max_length=80, blank=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["key"]
        constraints = [models.UniqueConstraint(fields=["firm", "key"], name="price_once_a_part")]

    def __str__(self) -> str:
        return f"{self.key} {self.price:g}"


class Quote(models.Model):
    """A quotation as it was made: never changed; a further one takes its place."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="quotes")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    until = models.DateField()
    currency = models.CharField(max_length=24)
    # lines, sums and shares, as printed
    data = models.JSONField()

    class Meta:
        ordering = ["-made", "-pk"]

    def __str__(self) -> str:
        return f"{self.plan} · {self.made:%Y-%m-%d}"
