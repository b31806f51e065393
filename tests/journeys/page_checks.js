// What tests ask of a page in a browser.

// The contrast of WCAG 2.1, 1.4.3 (https://www.w3.org/TR/WCAG21/#dfn-contrast-ratio), of every text against its ground.
const light = c => {
  const v = c / 255;
  return v <= 0.03928 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
};
const luminance = rgb => 0.2126 * light(rgb[0]) + 0.7152 * light(rgb[1]) + 0.0722 * light(rgb[2]);
const parts = text => text.match(/[\d.]+/g).map(Number);
const ground = e => {
  for (; e; e = e.parentElement) {
    const c = parts(getComputedStyle(e).backgroundColor);
    if (c.length < 4 || c[3] > 0) return c;
  }
  return [255, 255, 255];
};

function poorContrast() {
  const poor = [];
  const texts = "h1, h2, h3, p, td, th, button, label, output, small, figcaption, .axis i";
  for (const e of document.querySelectorAll(texts)) {
    if (!e.textContent.trim() || !e.getClientRects().length) continue;
    const a = luminance(parts(getComputedStyle(e).color)), b = luminance(ground(e));
    const ratio = (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
    if (ratio < 4.5) poor.push(`${e.tagName} ${e.textContent.slice(0, 20)} ${ratio.toFixed(2)}`);
  }
  return poor;
}

function nameless() {
  const all = [...document.querySelectorAll("button, input, select, [role=region]")];
  const bare = e => !(e.getAttribute("aria-label") || e.textContent.trim() || (e.labels && e.labels.length));
  return all.filter(bare).map(e => e.outerHTML.slice(0, 80));
}
