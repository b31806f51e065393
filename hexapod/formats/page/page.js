"use strict";
const body = document.body, table = document.getElementById("rows"), scroll = document.getElementById("scroll");
const rows = [...table.tBodies[0].rows], says = document.getElementById("says"), whole = says.textContent;
const find = document.getElementById("find"), show = document.getElementById("show");
const level = rows.map(row => Number(row.dataset.l));
const folded = new Set();
let day = parseFloat(body.style.getPropertyValue("--day"));

const hasBelow = i => i + 1 < rows.length && level[i + 1] > level[i];
const wanted = {
  "": () => true,
  open: row => !row.classList.contains("done") && row.classList.contains("task") || row.classList.contains("milestone") && !row.classList.contains("done"),
  late: row => row.classList.contains("late"),
  critical: row => row.classList.contains("critical"),
  milestone: row => row.classList.contains("milestone"),
};

function refresh() {
  const text = find.value.trim().toLocaleLowerCase(), isWanted = wanted[show.value];
  const narrowed = text !== "" || show.value !== "";
  const shown = new Array(rows.length).fill(!narrowed), found = new Array(rows.length).fill(false);
  let count = 0;
  if (narrowed) for (let i = 0; i < rows.length; i++) {
    const hit = (show.value === "" || isWanted(rows[i])) && (text === "" || rows[i].cells[0].textContent.toLocaleLowerCase().includes(text) || rows[i].cells[5].textContent.toLocaleLowerCase().includes(text));
    if (!hit) continue;
    found[i] = text !== "";
    shown[i] = true;
    count += 1;
    for (let j = i - 1, above = level[i]; j >= 0 && above > 0; j--) if (level[j] < above) { shown[j] = true; above = level[j]; }
  }
  let hidden = Infinity;
  for (let i = 0; i < rows.length; i++) {
    if (level[i] <= hidden) hidden = Infinity;
    const away = !shown[i] || (!narrowed && level[i] > hidden);
    rows[i].classList.toggle("away", away);
    rows[i].classList.toggle("found", found[i]);
    if (!narrowed && folded.has(i) && hidden === Infinity) hidden = level[i];
  }
  says.textContent = narrowed ? `${count} found` : whole;
}

function fold(i, on) {
  on ? folded.add(i) : folded.delete(i);
  const button = rows[i].querySelector(".fold");
  button.setAttribute("aria-expanded", String(!on));
  button.textContent = on ? "▸" : "▾";
}

rows.forEach((row, i) => {
  if (!hasBelow(i)) return;
  const button = document.createElement("button");
  button.type = "button";
  button.className = "fold";
  button.textContent = "▾";
  button.setAttribute("aria-expanded", "true");
  button.setAttribute("aria-label", "What is below " + row.cells[0].firstElementChild.textContent);
  button.addEventListener("click", () => { fold(i, !folded.has(i)); refresh(); });
  row.cells[0].prepend(button);
});
const every = on => { rows.forEach((_, i) => { if (hasBelow(i)) fold(i, on); }); refresh(); };
const zoom = by => {
  const middle = (scroll.scrollLeft + scroll.clientWidth / 2) / day;
  day = Math.min(60, Math.max(0.2, day * by));
  body.style.setProperty("--day", day + "px");
  scroll.scrollLeft = middle * day - scroll.clientWidth / 2;
};
const today = () => {
  const left = table.tHead.rows[0].cells[6].offsetLeft;
  scroll.scrollLeft = left + parseFloat(body.style.getPropertyValue("--today")) * day - scroll.clientWidth / 2;
};
document.getElementById("fold").addEventListener("click", () => every(true));
document.getElementById("open").addEventListener("click", () => every(false));
document.getElementById("in").addEventListener("click", () => zoom(1.5));
document.getElementById("out").addEventListener("click", () => zoom(1 / 1.5));
document.getElementById("now").addEventListener("click", today);
find.addEventListener("input", refresh);
show.addEventListener("change", refresh);
document.getElementById("tools").hidden = false;
body.dataset.ready = "1";
