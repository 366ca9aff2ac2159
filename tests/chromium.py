"""How Chromium is started, for the tests and for the pictures of the docs."""

CHROMIUM = {
    "executable_path": "/usr/bin/chromium-headless-shell",
    "args": [
        "--no-sandbox",
        "--disable-dev-shm-usage",
        "--font-render-hinting=none",
        "--renderer-process-limit=1",
    ],
}
"""Debian's own headless build. Letters are drawn without hinting, so that they are as wide on every machine. All pages
share a process, which saves the start of one at nearly every change of page."""
