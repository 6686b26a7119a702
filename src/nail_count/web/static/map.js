// The map of the wiring: larger, smaller, moved; and the way of a run lit from the panel.
"use strict";
(() => {
  const map = document.getElementById("map");
  if (!map) return;
  const whole = { x: 0, y: 0, width: +map.dataset.width, height: +map.dataset.height };
  const MOST = 8, STEP = 1.4, MOVE = 60; // how far in, how much at a time, and how far an arrow key moves, in CSS pixels
  let view = { ...whole };
  const scale = () => map.getScreenCTM().a;
  const within = (value, least, room) => (room < 0 ? room / 2 : Math.min(Math.max(value, least), room));
  const put = (next) => {
    const { width: wide, height: tall } = map.getBoundingClientRect();
    const fits = Math.max(whole.width, whole.height * wide / tall);
    const width = Math.min(Math.max(next.width, fits / MOST), fits), height = width * tall / wide;
    view = { width, height, x: within(next.x, 0, whole.width - width), y: within(next.y, 0, whole.height - height) };
    map.classList.toggle("zoomed", width < fits); // then one finger moves the map, and not the page
    map.setAttribute("viewBox", `${view.x} ${view.y} ${view.width} ${view.height}`);
  };
  const at = (x, y) => {
    const point = new DOMPoint(x, y).matrixTransform(map.getScreenCTM().inverse());
    return { x: point.x, y: point.y };
  };
  const zoom = (factor, about = { x: view.x + view.width / 2, y: view.y + view.height / 2 }) => put({
    width: view.width / factor, x: about.x - (about.x - view.x) / factor, y: about.y - (about.y - view.y) / factor,
  });
  const acts = { in: () => zoom(STEP), out: () => zoom(1 / STEP), fit: () => put({ ...whole, width: Infinity }) };
  document.addEventListener("click", (event) => acts[event.target.closest?.("[data-zoom]")?.dataset.zoom]?.());
  map.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const by = MOVE / scale();
    const keys = {
      "+": acts.in, "=": acts.in, "-": acts.out, "0": acts.fit,
      ArrowLeft: () => put({ ...view, x: view.x - by }), ArrowRight: () => put({ ...view, x: view.x + by }),
      ArrowUp: () => put({ ...view, y: view.y - by }), ArrowDown: () => put({ ...view, y: view.y + by }),
    };
    if (keys[event.key]) { event.preventDefault(); keys[event.key](); }
  });
  map.addEventListener("wheel", (event) => {
    if (!event.ctrlKey) return;
    event.preventDefault();
    zoom(event.deltaY < 0 ? STEP : 1 / STEP, at(event.clientX, event.clientY));
  }, { passive: false });

  // Fingers: one moves the map, two make it larger or smaller.
  const fingers = new Map(), STILL = 6; // a box is opened by a tap that moves less, in CSS pixels
  let moved = 0;
  const apart = () => { const [one, other] = [...fingers.values()]; return Math.hypot(one.x - other.x, one.y - other.y); };
  map.addEventListener("pointerdown", (event) => {
    if (event.target.closest("[data-cable], [data-circuit]") && fingers.size === 0) return; // a cable may be dragged
    fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
    moved = 0;
  });
  map.addEventListener("dragstart", (event) => event.preventDefault()); // or the browser would drag the link of a box
  map.addEventListener("click", (event) => { if (moved > STILL) event.preventDefault(); }, true);
  map.addEventListener("pointermove", (event) => {
    const before = fingers.get(event.pointerId);
    if (!before) return;
    const far = fingers.size === 2 ? apart() : 0;
    moved += Math.hypot(event.clientX - before.x, event.clientY - before.y);
    fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
    if (fingers.size === 2) {
      const [one, other] = [...fingers.values()];
      zoom(apart() / far, at((one.x + other.x) / 2, (one.y + other.y) / 2));
    } else if (fingers.size === 1) {
      put({ ...view, x: view.x - (event.clientX - before.x) / scale(), y: view.y - (event.clientY - before.y) / scale() });
    }
  });
  for (const name of ["pointerup", "pointercancel", "pointerleave"]) map.addEventListener(name, (event) => fingers.delete(event.pointerId));

  const light = (target) => {
    const way = target?.closest?.("#map [data-way]")?.dataset.way;
    const runs = new Set((way ?? "").split(" ").filter(Boolean));
    map.classList.toggle("lighting", runs.size > 0);
    map.querySelectorAll("[data-run]").forEach((run) => run.classList.toggle("lit", runs.has(run.dataset.run)));
  };
  map.addEventListener("pointerover", (event) => { if (event.pointerType === "mouse") light(event.target); });
  map.addEventListener("pointerdown", (event) => light(event.target));
  map.addEventListener("focusin", (event) => light(event.target));
})();
