"""What each address asks: the right to look at it, the right to send to it. One row for every name of the URLconf (tested).

"work" to send where an installer acts; "propose" where an apprentice may too: a change of a plan goes into their proposal, an entry of
a run carries their name.
"""

from __future__ import annotations

from rowan.web.accounts.rights import Rules

_ANYONE: Rules = dict.fromkeys(
    ("worker", "health", "ready", "accounts:sign_in", "accounts:who", "accounts:invitation", "accounts:new_firm", "accounts:reset",
     "accounts:reset_sent", "accounts:reset_confirm", "accounts:reset_done", "care:readings", "dates:feed", "handover:house", "handover:house_paper"),
    ("anyone", "anyone"),
)  # fmt: skip
_ONESELF: Rules = dict.fromkeys(
    ("accounts:sign_out", "accounts:password", "accounts:password_changed", "accounts:units", "accounts:me", "accounts:end_session",
     "accounts:second", "accounts:second_end", "jobs:list", "jobs:map", "jobs:proposal", "jobs:facts_band", "jobs:schema",
     "dates:calendar", "dates:set_feed", "quick:quick", "quick:sum", "methods:index", "methods:page", "methods:glossary", "methods:job_file"),
    ("oneself", "oneself"),
)  # fmt: skip
_LEAD: Rules = {
    "accounts:people": ("look", "lead"),
    "accounts:role": ("lead", "lead"),
    "accounts:leave": ("lead", "lead"),
    "accounts:withdraw": ("lead", "lead"),
    "accounts:firm": ("lead", "lead"),
    "accounts:logo": ("look", "lead"),
    "accounts:log": ("lead", "lead"),
}
# customers and days: an apprentice sees them, writes notes and files, and changes none
_BOOK: Rules = {
    **dict.fromkeys(
        ("customers:customers", "customers:customer", "customers:delete", "customers:site", "customers:set_card",
         "customers:set_state", "customers:remove_file", "dates:new_visit", "dates:visit", "dates:move", "dates:cancel"),
        ("look", "work"),
    ),
    **dict.fromkeys(("goods:take_in", "goods:set_price", "goods:keep", "goods:good"), ("look", "lead")),
    **dict.fromkeys(("goods:catalogue", "goods:csv", "goods:price_list"), ("look", "lead")),
    **dict.fromkeys(("jobs:places", "jobs:remove_place", "goods:use", "handover:quotation", "handover:quote_paper", "handover:take_price"), ("look", "work")),
    **dict.fromkeys(("archive:archive", "archive:look", "archive:take", "archive:job_zip"), ("work", "work")),
    "archive:firm_zip": ("lead", "lead"),
    "customers:export": ("work", "work"),
    "customers:file": ("look", "work"),
    "customers:write_note": ("look", "propose"),
    "dates:week": ("look", "work"),
    "care:fleet": ("look", "work"),
    **dict.fromkeys(
        ("practice:book", "practice:begin", "practice:run", "practice:go_on", "practice:turn", "practice:back", "practice:end", "practice:again",
         "practice:answer", "practice:look", "practice:put_right", "practice:once_more", "practice:paper", "practice:certificate", "practice:certificate_of"),
        ("look", "propose"),
    ),
    "practice:witnessed": ("lead", "lead"),
    "dates:job": ("look", "work"),
}  # fmt: skip
# pages of a job that are only looked at
_LOOKED_AT: Rules = dict.fromkeys(
    ("steps:job", "history:compare", "history:revisions", "steps:bench", "steps:assumed", "steps:export", "steps:run", "steps:sensors",
     "steps:wiring", "steps:race", "steps:pairs", "steps:calming", "steps:slip", "steps:schools", "steps:found", "history:proposal",
     "care:bench", "care:health", "care:window", "care:live", "care:live_now", "care:log", "papers:wiring", "papers:shade_letter", "papers:settings_card", "papers:chalk_sheet",
     "papers:roof_csv", "papers:roof_dxf", "papers:job_sheet", "papers:parts_csv", "papers:drawing", "papers:papers",
     "papers:run_record", "commissioning:rehearsal", "commissioning:run", "commissioning:work", "commissioning:photo",
     "commissioning:calendar", "commissioning:record", "handover:bench", "handover:pack", "handover:paper"),
    ("look", "work"),
)  # fmt: skip
_PROPOSED: Rules = dict.fromkeys(
    ("steps:set", "steps:drag", "steps:cure", "steps:step", "steps:entries", "steps:climate", "steps:datasheet", "steps:battery",
     "steps:take", "steps:store_sheet", "steps:vessel_sheet", "steps:measure", "steps:reading", "steps:pump", "steps:legs",
     "history:merge", "history:restore", "history:answer", "commissioning:runs", "commissioning:entries", "commissioning:photos",
     "commissioning:due", "handover:drill", "care:by_hand", "care:strike"),
    ("look", "propose"),
)  # fmt: skip
_WORK: Rules = dict.fromkeys(
    ("jobs:start", "jobs:take_in", "jobs:rename", "jobs:duplicate", "jobs:paper_units", "jobs:archive", "steps:copy", "care:connect", "care:take_log", "care:mapping", "care:delete_log", "care:use_sky",
     "care:end", "care:as_left", "commissioning:as_built", "handover:choose", "handover:offsets", "handover:links", "quick:keep"),
    ("look", "work"),
)  # fmt: skip
RULES: Rules = {**_ANYONE, **_ONESELF, **_LEAD, **_BOOK, **_LOOKED_AT, **_PROPOSED, **_WORK}
