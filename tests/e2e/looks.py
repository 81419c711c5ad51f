"""What holds of every page: nothing runs off the side, nothing is too small, everything that can be pressed has a name, and axe
finds nothing but the slight."""

from pathlib import Path

AXE = (Path(__file__).parents[2] / "ui/node_modules/axe-core/axe.min.js").read_text()
RUN_AXE = """() => axe.run(document, {resultTypes: ['violations']}).then((r) => r.violations
  .filter((v) => v.impact !== 'minor')
  // The stage of practice is one button, Pause, and what stands on it is the session itself, which changes every second.
  .map((v) => ({...v, nodes: v.nodes.filter((n) => v.id !== 'label-content-name-mismatch' || !n.html.includes('class="stage'))}))
  .filter((v) => v.nodes.length)
  .map((v) => `${v.impact} ${v.id}: ${v.nodes.slice(0, 3).map((n) => n.html.slice(0, 120)).join(' | ')}`))"""

LOOK = """() => {
  const seen = (e) => { const r = e.getBoundingClientRect(); return r.width > 0 && r.height > 0 }
  const own = (e) => e.getAttribute('aria-label') || e.innerText?.trim() || e.getAttribute('title')
  const name = (e) => own(e) || (e.labels && e.labels[0]?.textContent?.trim())
  const press = [...document.querySelectorAll('a, button, input, select, textarea')].filter(seen)
  const touched = (e) => e.closest('label:has(:is([type=checkbox], [type=radio]))') ?? e
  const says = (e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())
  const text = [...document.querySelectorAll('body *')].filter((e) => seen(e) && says(e))
  return {
    sideways: document.documentElement.scrollWidth - window.innerWidth,
    headings: document.querySelectorAll('h1').length,
    // A pointer's second way to what a field does itself is hidden from readers, who have the field.
    nameless: press.filter((e) => !e.closest('[aria-hidden=true]') && !name(e)).map((e) => e.outerHTML.slice(0, 90)),
    tiny: text.filter((e) => parseFloat(getComputedStyle(e).fontSize) < 12).map((e) => e.textContent.trim().slice(0, 30)),
    low: press.filter((e) => touched(e).getBoundingClientRect().height < 43).map((e) => name(e)),
  }
}"""


def look(page, *, client=False):
    found = page.evaluate(LOOK)
    assert found["sideways"] <= 0
    assert not found["nameless"], found["nameless"]
    assert not found["tiny"], found["tiny"]
    page.evaluate(AXE)
    violations = page.evaluate(RUN_AXE)
    assert not violations, violations
    if client:
        assert found["low"] == [], f"a target under 44 px: {found['low']}"
    return found
