// The hook-up in the hand: an end tapped and then what it joins, or dragged there. Each gesture ends in the page's own form.
"use strict";
(() => {
  let picked = "";
  const at = (target) => target?.closest?.("#hookup [data-end], #hookup [data-splice]");
  const mark = () => document.querySelectorAll("#hookup [data-end]").forEach((one) => one.classList.toggle("picked", one.dataset.end === picked));
  const join = (end, place) => {
    const form = document.getElementById("join");
    const to = place.dataset.splice ?? place.dataset.end;
    if (!form || !end || end === to) return;
    const choose = (name, value) => {
      const select = form.elements[name];
      if (![...select.options].some((one) => one.value === value)) select.add(new Option(value, value));
      select.value = value;
    };
    choose("end", end);
    choose("to", to);
    picked = "";
    form.requestSubmit();
  };
  const press = (place) => {
    if (picked && place.dataset.end !== picked) return join(picked, place);
    picked = place.dataset.end === picked ? "" : place.dataset.end ?? "";
    mark();
  };
  let from = null;
  document.addEventListener("pointerdown", (event) => { from = at(event.target); });
  document.addEventListener("pointerup", (event) => {
    const place = at(document.elementFromPoint(event.clientX, event.clientY));
    if (from?.dataset.end && place && place !== from) { picked = ""; join(from.dataset.end, place); } else if (place && place === from) press(place);
    from = null;
  });
  document.addEventListener("keydown", (event) => {
    const place = at(document.activeElement);
    if (place && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); press(place); }
    if (event.key === "Escape" && picked) { picked = ""; mark(); }
  });
  document.addEventListener("htmx:after:swap", mark);
})();
