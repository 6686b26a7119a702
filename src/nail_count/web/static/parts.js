// The parts list on a phone: a line swiped to the right is marked by its own button.
"use strict";
(() => {
  const FAR = 80, STRAIGHT = 40; // how far a finger moves for a swipe, and how straight, in CSS pixels
  let from = null, line = null;
  const end = () => { line?.classList.remove("swiping"); from = line = null; };
  document.addEventListener("touchstart", (event) => {
    line = event.touches.length === 1 ? event.target.closest("[data-swipe] tr.part") : null;
    from = line?.querySelector(".tick-next") ? event.touches[0] : null;
  }, { passive: true });
  document.addEventListener("touchmove", (event) => {
    if (from) line.classList.toggle("swiping", event.touches[0].clientX - from.clientX > FAR);
  }, { passive: true });
  document.addEventListener("touchend", (event) => {
    if (from) {
      const to = event.changedTouches[0];
      if (to.clientX - from.clientX > FAR && Math.abs(to.clientY - from.clientY) < STRAIGHT) line.querySelector(".tick-next").click();
    }
    end();
  }, { passive: true });
  document.addEventListener("touchcancel", end, { passive: true });
})();
