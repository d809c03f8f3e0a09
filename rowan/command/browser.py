"""Headless Chromium as pictures and browser tests use it."""

from __future__ import annotations

import shutil
from pathlib import Path

from selenium import webdriver

FLAGS = (
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-color-profile=srgb",
    "--hide-scrollbars",
    "--lang=en-GB",
)


def new_driver(profile: Path) -> webdriver.Chrome:
    """A browser with an empty profile."""
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    for flag in (*FLAGS, f"--user-data-dir={profile}"):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    return webdriver.Chrome(options=options, service=webdriver.ChromeService(shutil.which("chromedriver")))


def set_size(driver: webdriver.Chrome, width: int, height: int, *, phone: bool = False) -> None:
    """Give the page a true viewport of that size."""
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": phone}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
