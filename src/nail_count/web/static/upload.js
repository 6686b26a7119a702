// Files go up one by one with progress; what is refused is said beside the form, and what was typed stays.
"use strict";
(() => {
  const say = (place, sentences) => {
    place.replaceChildren(...sentences.map((sentence) => Object.assign(document.createElement("p"), { className: "expected", textContent: sentence })));
  };
  const go = (to) => {
    const here = location.pathname;
    location.href = to;
    if (new URL(to, location.href).pathname === here) location.reload();
  };
  const send = (form, field, file, onProgress) => new Promise((done) => {
    const body = new FormData(form), request = new XMLHttpRequest();
    body.delete(field.name);
    body.append(field.name, file);
    request.open("POST", form.action);
    request.setRequestHeader("Accept", "application/json");
    request.upload.addEventListener("progress", (event) => { if (event.lengthComputable) onProgress(event.loaded / event.total); });
    request.addEventListener("load", () => {
      let answer = {};
      try { answer = JSON.parse(request.responseText); } catch { /* no answer of this program */ }
      if (request.status === 200 && answer.to) done({ to: answer.to });
      else done({ wrong: answer.detail ?? `the server answered ${request.status}; try again` });
    });
    request.addEventListener("error", () => done({ wrong: "the server did not answer; what you chose is still here, try again" }));
    request.send(body);
  });

  document.addEventListener("submit", async (event) => {
    const form = event.target, field = form.matches?.("[data-upload]") ? form.querySelector("input[type=file]") : null;
    const files = [...(field?.files ?? [])];
    if (!files.length) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    const place = form.querySelector(".upload-says"), button = form.querySelector("button:not([type=button])");
    const bar = Object.assign(document.createElement("progress"), { max: files.length, value: 0 });
    const line = document.createElement("p");
    place.replaceChildren(line, bar);
    button.disabled = true;
    const wrong = [];
    let to = "";
    for (const [number, file] of files.entries()) {
      line.textContent = `${number + 1} of ${files.length}: ${file.name}`;
      bar.setAttribute("aria-label", line.textContent);
      const answer = await send(form, field, file, (share) => { bar.value = number + share; });
      if (answer.to) to = answer.to;
      else wrong.push(files.length > 1 ? `Not taken, ${file.name}: ${answer.wrong}` : `Not taken: ${answer.wrong}`);
      bar.value = number + 1;
    }
    button.disabled = false;
    if (wrong.length) {
      say(place, wrong);
      const button = Object.assign(document.createElement("button"), { type: "button", className: "quiet", textContent: "Show those that were taken" });
      button.addEventListener("click", () => go(to));
      if (to) place.append(button);
      return;
    }
    go(to);
  }, true);
})();
