// The bench in the hand: keys, dragging on the drawing, long press. Each gesture ends in one of the page's own forms.
"use strict";
(() => {
  const byId = (id) => document.getElementById(id);
  const typing = (target) => target.matches?.("input:not([type=checkbox]), select, textarea");
  const submit = (form, values = {}) => {
    if (!form) return;
    if (form.matches("button")) { form.click(); return; }
    for (const [name, value] of Object.entries(values)) form.elements[name].value = value;
    form.requestSubmit();
  };
  const remembered = () => { try { return localStorage.getItem("single-keys") !== "off"; } catch { return true; } };

  // Keys
  const gangAtHand = () => document.activeElement?.closest?.("[data-gang], .gang");
  const gangNumber = (near) => Number(near?.dataset.gang ?? near?.id.replace("gang-", "")) || 0;
  const goToGang = (number) => {
    const card = byId(`gang-${number}`);
    if (!card) return false;
    card.focus();
    return true;
  };
  const moveDevice = (from, to) => byId(`gang-${to}`) && submit(byId("drag-swap"), { one: from, other: to });
  const open = (details, field) => {
    if (!details) return;
    details.open = true;
    const first = field ?? details.querySelector("input:not([type=hidden]), select");
    first?.focus();
    first?.select?.();
  };

  // The slot of the day that the clock stands in.
  const markNow = () => {
    const now = new Date(), minute = now.getHours() * 60 + now.getMinutes();
    for (const slot of document.querySelectorAll("[data-from][data-to]")) {
      if (minute >= Number(slot.dataset.from) && minute < Number(slot.dataset.to)) slot.setAttribute("aria-current", "time");
      else slot.removeAttribute("aria-current");
    }
  };
  markNow();
  setInterval(markNow, 2000);
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape" && typing(event.target)) { event.target.blur(); return; }
    if (event.ctrlKey || event.metaKey || event.altKey || !byId("bench")) return;
    if (typing(event.target) || byId("keys")?.open) return;
    const gang = gangNumber(gangAtHand());
    if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
      if (!gang) return;
      event.preventDefault();
      const to = gang + (event.key === "ArrowLeft" ? -1 : 1);
      const drawn = event.target.closest?.("#front .device");
      if (drawn) moveDevice(gang, event.key === "ArrowLeft" ? to : gang + Number(drawn.dataset.width));
      else if (event.shiftKey) moveDevice(gang, to);
      else goToGang(to);
      return;
    }
    const drawn = event.target.closest?.("#front .device");
    if (drawn && (event.key === "Delete" || event.key === "Backspace")) { event.preventDefault(); submit(byId(`out-${drawn.dataset.part}`)); return; }
    if (drawn && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); goToGang(drawn.dataset.gang); return; }
    if (!remembered() || event.repeat) return;
    if (/^[1-8]$/.test(event.key) && goToGang(event.key)) { event.preventDefault(); return; }
    const actions = {
      "?": () => byId("keys").showModal(),
      "/": () => open(byId("quick")),
      "v": () => { byId("volume-volume").focus(); byId("volume-volume").select(); },
      "l": () => open(byId(`gang-${gang || 1}`)?.querySelector("[id^=add-load]")),
    };
    const action = actions[event.key];
    if (action) { event.preventDefault(); action(); return; }
    const button = document.querySelector(`#bench [data-key="${CSS.escape(event.key)}"]`);
    if (button) { event.preventDefault(); button.click(); }
  });

  document.addEventListener("click", (event) => {
    if (event.target.closest?.("#show-keys")) byId("keys").showModal();
    const next = event.target.closest?.("[data-append]");
    if (next) {
      const field = next.closest("form, section, main").querySelector("input[name=line]");
      field.value = `${field.value.trimEnd()}${/^[,;]/.test(next.dataset.append) || !field.value ? "" : " "}${next.dataset.append} `;
      field.focus();
      field.dispatchEvent(new Event("input", { bubbles: true }));
    }
    const empty = event.target.closest?.("#front .zone");
    if (empty && byId(`gang-${empty.dataset.gang}`)) {
      byId(`gang-${empty.dataset.gang}`).scrollIntoView({ block: "nearest" });
      open(byId(`put-in-${empty.dataset.gang}`));
    }
    const strand = event.target.closest?.("[data-opens]");
    if (strand) {
      const place = byId(strand.dataset.opens);
      place.open = true;
      place.scrollIntoView({ block: "center" });
      place.querySelector("summary").focus();
    }
    const onward = event.target.closest?.("[data-next]");
    if (onward) {
      onward.closest("details").open = false;
      const step = byId(onward.dataset.next);
      step.open = true;
      step.querySelector("summary").focus();
      step.scrollIntoView({ block: "start" });
    }
    const shows = event.target.closest?.("[data-shows]");
    if (shows) {
      const place = byId(shows.dataset.shows);
      place?.scrollIntoView({ block: "center" });
      place?.classList.add("shown");
      setTimeout(() => place?.classList.remove("shown"), 2500);
    }
  });
  document.addEventListener("change", (event) => {
    if (event.target.id === "single-keys") { try { localStorage.setItem("single-keys", event.target.checked ? "on" : "off"); } catch { /* kept for this page only */ } }
  });
  document.addEventListener("toggle", (event) => { if (event.target.id === "keys") byId("single-keys").checked = remembered(); }, true);

  // A long press on a tally button is one less.
  let pressed = 0;
  document.addEventListener("pointerdown", (event) => {
    const tap = event.target.closest?.("[data-less]");
    if (!tap) return;
    pressed = setTimeout(() => {
      pressed = -1;
      submit(byId(tap.dataset.less));
    }, 500);
  });
  for (const end of ["pointerup", "pointercancel"]) {
    document.addEventListener(end, () => { if (pressed > 0) { clearTimeout(pressed); pressed = 0; } });
  }
  document.addEventListener("click", (event) => {
    if (pressed !== -1 || !event.target.closest?.("[data-less]")) return;
    pressed = 0;
    event.preventDefault();
    event.stopImmediatePropagation();
  }, true);
  document.addEventListener("contextmenu", (event) => { if (event.target.closest?.("[data-less]")) event.preventDefault(); });

  // Dragging: a device to another gang or out of the box, a cable out, a device of the tally into a gang.
  let drag = null;
  const zoneAt = (x, y) => [...document.querySelectorAll("#front .zone")].find((zone) => {
    const place = zone.getBoundingClientRect();
    return x >= place.left && x < place.right && y > place.top - 40 && y < place.bottom + 40;
  });
  const outside = (x, y) => {
    const place = byId("box-inside").getBoundingClientRect();
    return x < place.left - 20 || x > place.right + 20 || y < place.top - 20 || y > place.bottom + 20;
  };
  const leave = () => {
    drag?.ghost?.remove();
    drag?.thing?.classList.remove("moving");
    for (const name of ["x", "y", "transform"]) drag?.thing?.removeAttribute(name);
    document.querySelectorAll("#front .zone.over").forEach((zone) => zone.classList.remove("over"));
    drag = null;
  };
  document.addEventListener("pointerdown", (event) => {
    if (event.button !== 0 || !event.isPrimary) return;
    const thing = event.target.closest?.("#front .device, #front .tag, #front .cable, .device-tap");
    if (!thing || thing.matches("[aria-disabled=true]")) return;
    drag = { thing, x: event.clientX, y: event.clientY, far: false, id: event.pointerId };
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag || event.pointerId !== drag.id) return;
    const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
    if (!drag.far && Math.hypot(dx, dy) < 8) return;
    drag.far = true;
    drag.thing.classList.add("moving");
    if (drag.thing.matches(".device-tap")) {
      drag.ghost ??= document.body.appendChild(Object.assign(document.createElement("div"), { className: "ghost", textContent: drag.thing.textContent }));
      drag.ghost.style.left = `${event.clientX + 8}px`;
      drag.ghost.style.top = `${event.clientY + 8}px`;
    } else {
      const scale = byId("front").getScreenCTM().a;
      if (drag.thing.matches("svg")) { drag.thing.setAttribute("x", dx / scale); drag.thing.setAttribute("y", dy / scale); }
      else drag.thing.setAttribute("transform", `translate(${dx / scale} ${dy / scale})`);
    }
    if (!drag.thing.matches(".tag, .cable")) {
      const over = zoneAt(event.clientX, event.clientY);
      document.querySelectorAll("#front .zone").forEach((zone) => zone.classList.toggle("over", zone === over));
    }
  });
  document.addEventListener("pointerup", (event) => {
    if (!drag || event.pointerId !== drag.id) return;
    const { thing, far } = drag;
    const [zone, out] = [zoneAt(event.clientX, event.clientY), outside(event.clientX, event.clientY)];
    const pulled = Math.hypot(event.clientX - drag.x, event.clientY - drag.y) > 45;
    leave();
    if (!far) return;
    if (thing.matches(".device-tap")) { if (zone) submit(byId("drag-put"), { gang: zone.dataset.gang, sheet: thing.dataset.sheet }); }
    else if (thing.matches(".device")) {
      if (zone && zone.dataset.gang !== thing.dataset.gang) submit(byId("drag-swap"), { one: thing.dataset.gang, other: zone.dataset.gang });
      else if (!zone && out) submit(byId(`out-${thing.dataset.part}`));
    } else if (out && pulled) submit(byId(`out-${thing.dataset.part}`));
    // The click that ends a drag is no tap; where none comes, the next one is.
    const swallow = (click) => { click.preventDefault(); click.stopImmediatePropagation(); };
    document.addEventListener("click", swallow, { capture: true, once: true });
    setTimeout(() => document.removeEventListener("click", swallow, true), 0);
  });
  document.addEventListener("pointercancel", leave);

  // The time it is here, into a field that asks from when.
  document.addEventListener("click", (event) => {
    const field = byId(event.target.closest?.("[data-now]")?.dataset.now ?? "");
    if (!field) return;
    const now = new Date();
    field.value = `${now.getHours()}:${String(now.getMinutes()).padStart(2, "0")}`;
    field.form.requestSubmit();
  });
})();
