"""How Chromium is started, for the tests and for the pictures of the docs."""

CHROMIUM = {
    "executable_path": "/usr/bin/chromium-headless-shell",
    "args": ["--no-sandbox", "--disable-dev-shm-usage", "--font-render-hinting=none"],
}
"""Debian's own headless build. Letters are drawn without hinting, so that they are as wide on every machine."""
