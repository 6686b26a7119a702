// On the ladder: the arrows left and right, or a swipe, lead to the step before and after; the space bar is "Done".
"use strict";
(() => {
  const FAR = 80, STRAIGHT = 40; // how far a finger moves for a swipe, and how straight, in CSS pixels
  const page = () => document.querySelector("main.install");
  const go = (way) => page()?.querySelector(`[data-step="${way}"]`)?.click();

  document.addEventListener("keydown", (event) => {
    if (!page() || event.ctrlKey || event.metaKey || event.altKey || event.shiftKey) return;
    if (event.target.closest("input, textarea, select")) return;
    if (event.key === "ArrowRight") go("next");
    else if (event.key === "ArrowLeft") go("previous");
    else if (event.key === " " && event.target === document.body) {
      event.preventDefault(); // or the page would scroll
      page().querySelector("#done .step-done")?.click();
    }
  });

  let from = null;
  document.addEventListener("touchstart", (event) => {
    const wide = event.target.closest(".wide"); // a drawing wider than the screen is moved by the same swipe
    const scrolls = event.target.closest("input, textarea, select") || (wide && wide.scrollWidth > wide.clientWidth);
    from = page()?.contains(event.target) && event.touches.length === 1 && !scrolls ? event.touches[0] : null;
  }, { passive: true });
  document.addEventListener("touchend", (event) => {
    if (!from) return;
    const to = event.changedTouches[0], across = to.clientX - from.clientX;
    if (Math.abs(across) > FAR && Math.abs(to.clientY - from.clientY) < STRAIGHT) go(across < 0 ? "next" : "previous");
    from = null;
  }, { passive: true });
})();
