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

  // A splice followed: with a finger or the pointer on its wires, with the keys, or from its line in a list.
  const follow = (splice) => document.querySelectorAll(".hook-drawing").forEach((drawing) => {
    drawing.classList.toggle("following", !!splice && !!drawing.querySelector(`[data-of-splice="${CSS.escape(splice)}"]`));
    drawing.querySelectorAll("[data-of-splice]").forEach((one) => one.classList.toggle("followed", !!splice && one.dataset.ofSplice === splice));
  });
  const lists = (splice) => document.querySelectorAll("li[data-of-splice]").forEach((line) =>
    line.classList.toggle("followed", !!splice && line.dataset.ofSplice === splice));
  let followed = "";
  const show = (target) => {
    const splice = target?.closest?.("[data-of-splice]")?.dataset.ofSplice ?? "";
    if (splice === followed) return;
    followed = splice;
    follow(splice);
    lists(splice);
  };
  document.addEventListener("pointermove", (event) => show(document.elementFromPoint(event.clientX, event.clientY)));
  document.addEventListener("pointerdown", (event) => show(event.target));
  document.addEventListener("pointerup", (event) => { if (event.pointerType !== "mouse") show(null); });
  document.addEventListener("focusin", (event) => show(event.target));

  // The drawing alone on the screen, large enough for every end to be tapped.
  const full = (drawing) => {
    const before = document.querySelector(".hook-drawing.full");
    before?.classList.remove("full");
    before?.querySelector(".close-full")?.remove();
    if (!drawing || drawing === before) return document.querySelector(`[data-full="${before?.id}"]`)?.focus();
    drawing.classList.add("full");
    const close = Object.assign(document.createElement("button"), { type: "button", className: "close-full", textContent: "Close" });
    close.addEventListener("click", () => full(null));
    drawing.prepend(close);
    close.focus();
  };
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-full]");
    if (button) full(document.getElementById(button.dataset.full));
  });
  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && document.querySelector(".hook-drawing.full")) full(null); });

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
