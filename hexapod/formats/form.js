"use strict";
const page = document.body.dataset;
const says = document.getElementById("says");
document.getElementById("save").addEventListener("click", () => {
  const answers = [];
  for (const section of document.querySelectorAll("section")) {
    const answer = {task: section.dataset.task, name: section.dataset.name, since: section.dataset.since};
    let told = false;
    for (const input of section.querySelectorAll("input")) {
      const text = input.value.trim();
      if (!input.validity.valid) {
        input.focus();
        says.textContent = "“" + section.dataset.name + "”: " + (input.title || "this cannot be read.");
        return;
      }
      if (text) { answer[input.name] = text; told = true; }
    }
    if (told) answers.push(answer);
  }
  if (!answers.length) { says.textContent = "Nothing is filled in yet."; return; }
  const told = {format: "hexapod-answers", version: 1, workspace: page.workspace, person: page.person,
                name: page.name, made: page.made, answers: answers};
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([JSON.stringify(told, null, 1)], {type: "application/json"}));
  link.download = page.file;
  link.click();
  says.textContent = "Saved as “" + page.file + "”. Send it back, or put it into the folder that this page came from.";
});
