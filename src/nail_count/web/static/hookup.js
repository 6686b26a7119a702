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

  // On the map: the letter of a cable, and then where it goes.
  let cable = null, held = null;
  const onMap = (target) => target?.closest?.("#map [data-box], #map [data-circuit]");
  const marked = () => document.querySelectorAll("#map .map-end").forEach((one) => one.classList.toggle("picked", one === cable));
  const goes = (from, to) => {
    const form = document.getElementById("run");
    const set = (name, value) => { form.elements[name].value = value; };
    set("box", from.dataset.box);
    set("cable", from.dataset.cable);
    set("to", to.dataset.circuit ? "circuit" : "box");
    set("circuit", to.dataset.circuit ?? "");
    set("far_box", to.dataset.box ?? "");
    set("far_cable", to.dataset.cable ?? "");
    form.requestSubmit();
  };
  const tap = (place, event) => {
    if (cable && place !== cable) { event.preventDefault(); return goes(cable, place); }
    if (place.dataset.cable) { cable = cable === place ? null : place; marked(); }
  };
  document.addEventListener("pointerdown", (event) => { held = onMap(event.target); if (held?.dataset.cable) event.preventDefault(); });
  document.addEventListener("pointerup", (event) => {
    const place = onMap(document.elementFromPoint(event.clientX, event.clientY));
    if (held?.dataset.cable && place && place !== held) goes(held, place);
    held = null;
  });
  document.addEventListener("click", (event) => { const place = onMap(event.target); if (place) tap(place, event); });
  document.addEventListener("keydown", (event) => {
    const place = onMap(document.activeElement);
    if (place && (place.dataset.cable || cable) && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); tap(place, event); }
    if (event.key === "Escape" && cable) { cable = null; marked(); }
  });
})();
