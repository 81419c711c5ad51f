"""What holds of every page: nothing runs off the side, nothing is too small, everything that can be pressed has a name."""

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
    nameless: press.filter((e) => !name(e)).map((e) => e.outerHTML.slice(0, 90)),
    tiny: text.filter((e) => parseFloat(getComputedStyle(e).fontSize) < 12).map((e) => e.textContent.trim().slice(0, 30)),
    low: press.filter((e) => touched(e).getBoundingClientRect().height < 43).map((e) => name(e)),
  }
}"""


def look(page, *, client=False):
    found = page.evaluate(LOOK)
    assert found["sideways"] <= 0
    assert found["nameless"] == []
    assert found["tiny"] == []
    if client:
        assert found["low"] == [], f"a target under 44 px: {found['low']}"
    return found
