"""Headless Chromium from Debian, as the shots, the bench and the browser tests start it."""

from __future__ import annotations

import base64
import tempfile
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service

FLAGS = (
    "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync", "--disable-dev-shm-usage",
)  # fmt: skip


def start_browser(width: int = 1280, height: int = 800) -> webdriver.Chrome:
    """A fresh browser with its own profile folder and an exact viewport."""
    options = Options()
    options.binary_location = "/usr/bin/chromium"
    for flag in FLAGS:
        options.add_argument(flag)
    options.add_argument(f"--user-data-dir={tempfile.mkdtemp(prefix='wavilex-chromium-')}")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    set_viewport(driver, width, height)
    return driver


def set_viewport(driver: webdriver.Chrome, width: int, height: int) -> None:
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)


def save_picture(driver: webdriver.Chrome, file: Path) -> None:
    """A PNG of the viewport once the fonts are there."""
    driver.execute_async_script("document.fonts.ready.then(arguments[0])")
    data = driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png"})["data"]
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_bytes(base64.b64decode(data))
