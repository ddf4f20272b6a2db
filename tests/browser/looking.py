"""What must be true of every screen, at every step of a job, whatever is held in the hand."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from playwright.sync_api import Page

#: A glove needs so much. [px]
GLOVE = 44

#: Everything that takes a press, with how large it is; a link within a sentence is text.
SMALL = """(least) => {
  const said = [];
  const all = 'a[href],button,input,select,textarea,[tabindex="0"],[role=button],summary';
  for (const e of document.querySelectorAll(all)) {
    if (e.disabled || e.closest('[aria-hidden=true],[inert]')) continue;
    const style = getComputedStyle(e);
    if (style.visibility === 'hidden' || style.display === 'none') continue;
    const box = /checkbox|radio/.test(e.type ?? '');
    const r = (box ? e.closest('label') ?? e : e).getBoundingClientRect();
    if (!r.width || !r.height) continue;
    const text = (node) => node.textContent.trim();
    if (style.display === 'inline' && text(e.parentElement) !== text(e)) continue;
    if (r.width < least - 0.5 || r.height < least - 0.5)
      said.push(`${(e.getAttribute('aria-label') || text(e) || e.tagName).slice(0, 50)} ` +
        `${Math.round(r.width)}x${Math.round(r.height)}`);
  }
  return said;
}"""
#: Whether the one next action lies in the window, above the strip.
SEEN = """() => {
  const main = document.querySelector('[data-main]');
  if (!main) return '';
  const r = main.getBoundingClientRect();
  const strip = document.querySelector('footer')?.getBoundingClientRect().top ?? innerHeight;
  return r.top < -1 || r.bottom > strip + 1
    ? `${main.innerText.slice(0, 40)}: ${Math.round(r.top)} to ${Math.round(r.bottom)} of ${strip}`
    : '';
}"""


class Look:
    """Called at each new step of a walk: fails with what a hand or an eye could not use."""

    def __init__(self, case: Any, page: Page, *, glove: bool, axe: bool = False) -> None:
        self.case, self.page, self.glove, self.axe = case, page, glove, axe
        self.pictures = 0
        self.stages: set[str] = set()

    def __call__(self, step: str) -> None:
        wide = self.page.evaluate("document.documentElement.scrollWidth - innerWidth")
        self.case.assertLessEqual(wide, 0, f"{step}: sideways scroll")
        self.case.assertEqual(self.page.evaluate(SEEN), "", f"{step}: the main action is hidden")
        if self.glove:
            small = self.page.evaluate(SMALL, GLOVE)
            self.case.assertEqual(small, [], f"{step}: too small for a glove")
        stage = self.page.locator("[aria-label=Stages] [aria-current=step]").inner_text()
        if self.axe and stage not in self.stages:
            self.stages.add(stage)
            self.case.axe(self.page)
        if folder := self.case.pictures:
            self.pictures += 1
            name = f"{self.case._testMethodName}-{self.pictures:02d}-{step}.png"
            self.page.screenshot(path=Path(folder) / name)
