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
    # letters as wide as the font says, as a browser with windows has them
    "--font-render-hinting=none",
    "--lang=en-GB",
)


# of Debian's package of that name, and not what it puts into the path: that only calls it, and would be ended in its place
SHELL = Path("/usr/lib/chromium/chromium-headless-shell")


def _binary(profile: Path) -> str:
    """Chromium's shell without windows and what belongs to them, or Chromium itself: to load a page takes it two thirds of the
    processor, to start half."""
    if not SHELL.exists():
        return shutil.which("chromium") or "/usr/bin/chromium"
    # started by a driver it opens no page, and the driver waits for one
    starter = profile.with_suffix(".start")
    starter.write_text(f'#!/bin/sh\nexec {SHELL} "$@" about:blank\n', encoding="utf-8")
    starter.chmod(0o700)
    return str(starter)


def new_driver(profile: Path) -> webdriver.Chrome:
    """A browser with an empty profile."""
    options = webdriver.ChromeOptions()
    options.binary_location = _binary(profile)
    for flag in (*FLAGS, f"--user-data-dir={profile}"):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    return webdriver.Chrome(options=options, service=webdriver.ChromeService(shutil.which("chromedriver")))


def set_network(driver: webdriver.Chrome, *, gone: bool) -> None:
    """Take the page's network away, or give it back. Asked for anew each time: without it the browser goes on as before."""
    driver.execute_cdp_cmd("Network.enable", {})
    given = {"offline": gone, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
    driver.execute_cdp_cmd("Network.emulateNetworkConditions", given)


def set_size(driver: webdriver.Chrome, width: int, height: int, *, phone: bool = False) -> None:
    """Give the page a true viewport of that size."""
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": phone}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
