"use strict";
const form = document.querySelector("form"), says = document.getElementById("says");
document.getElementById("save").addEventListener("click", () => {
  const bad = [...form.elements].find(field => !field.validity.valid);
  if (bad) {
    bad.focus();
    says.textContent = bad.parentElement.firstChild.textContent + ": " + (bad.value ? "this cannot be read." : "this is needed.");
    return;
  }
  const request = {format: "hexapod-request", version: 1};
  for (const field of form.elements) if (field.name && field.value.trim()) request[field.name] = field.value.trim();
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([JSON.stringify(request, null, 1)], {type: "application/json"}));
  link.download = "request " + request.what.replace(/[^\p{L}\p{N} _-]/gu, "").slice(0, 60) + ".json";
  link.click();
  says.textContent = "Saved as “" + link.download + "”. Send it, or put it into the folder that this page came from.";
});
