// Gestures only: every number comes from the server.
"use strict";
(() => {
  // Taps made while an earlier one is still under way carry the revision shown when they were made. Where that revision
  // led to a newer one by this page's own act, they follow it; where the server refused, they stay and are refused too.
  const ledTo = new Map();
  const newest = (revision) => { while (ledTo.has(revision)) revision = ledTo.get(revision); return revision; };
  // An act that got no answer may have been done all the same: sent again, it carries the token it had.
  const unanswered = new Map();
  const fresh = () => [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  const shown = () => document.getElementById("shown")?.dataset.revision;
  const around = (element) => { const ids = []; for (let at = element; at; at = at.parentElement) if (at.id) ids.push(at.id); return ids.join(" "); };

  document.addEventListener("htmx:config:request", (event) => {
    event.detail.ctx.tapped = shown();
  });

  document.addEventListener("htmx:before:request", (event) => {
    const { ctx } = event.detail, body = ctx.request.body;
    // Which sections the page shows, so that only those come that differ.
    const sections = [...document.querySelectorAll("main [data-digest]")].map((one) => `${one.id}=${one.dataset.digest}`);
    if (sections.length) ctx.request.headers["X-Sections"] = sections.join(" ");
    if ((body instanceof URLSearchParams || body instanceof FormData) && body.has("revision")) {
      ctx.sent = newest(ctx.tapped);
      // Where the form stands, in case it is refused.
      ctx.request.headers["X-Within"] = around(ctx.sourceElement);
      body.set("revision", ctx.sent);
      body.delete("token");
      const said = `${ctx.request.action} ${new URLSearchParams(body)}`;
      ctx.act = said;
      body.set("token", unanswered.get(said) ?? fresh());
      unanswered.set(said, body.get("token"));
    }
  });
  document.addEventListener("htmx:after:swap", (event) => {
    const ctx = event.detail.ctx;
    if (!ctx?.response || ctx.sent === undefined) return;
    unanswered.delete(ctx.act);
    if (ctx.response.status === 200) {
      if (shown() !== ctx.sent) ledTo.set(ctx.sent, shown());
      document.getElementById("notice").replaceChildren();
      const form = ctx.sourceElement;
      if (form instanceof HTMLFormElement && form.isConnected) form.reset();
      // What comes next may be another thing now.
      document.getElementById("guide")?.dispatchEvent(new Event("again"));
    } else if (ctx.response.status === 422) {
      document.querySelector("main [aria-invalid=true]")?.focus();
    }
  });
  document.addEventListener("htmx:error", (event) => {
    const notice = document.createElement("div");
    notice.className = "notice";
    notice.setAttribute("role", "alert");
    notice.textContent = "Not saved: the server did not answer. What you typed is still here; try again when it runs.";
    if (event.detail.ctx) document.getElementById("notice").replaceChildren(notice);
  });

  // Times in the reader's own zone; what the server wrote stays as the title.
  const clock = new Intl.DateTimeFormat("en-US", { month: "short", day: "numeric", hour: "2-digit", minute: "2-digit", hourCycle: "h23" });
  const ownTime = () => {
    for (const time of document.querySelectorAll("time[datetime]:not([title])")) {
      time.title = time.textContent;
      time.textContent = clock.format(new Date(time.dateTime));
    }
  };
  ownTime();
  document.addEventListener("htmx:after:swap", ownTime);

  // What is touched lights up everywhere: drawing, nail, ledger line, bar.
  const light = (target) => {
    const near = target?.closest?.("[data-line], [data-part], [data-parts]");
    const parts = new Set(), lines = new Set();
    if (near) {
      if (near.dataset.part) parts.add(near.dataset.part);
      for (const part of (near.dataset.parts ?? "").split(" ")) if (part) parts.add(part);
      if (!near.dataset.part) { const line = near.closest("[data-line]"); if (line) lines.add(line.dataset.line); }
    }
    for (const thing of document.querySelectorAll("[data-line], [data-part], [data-parts]")) {
      const { part, parts: several, line } = thing.dataset;
      const lit = (part && parts.has(part)) || (line !== undefined && lines.has(line))
        || (several ?? "").split(" ").some((one) => one && parts.has(one));
      thing.classList.toggle("lit", Boolean(lit));
    }
  };
  document.addEventListener("pointerover", (event) => event.pointerType === "mouse" && light(event.target));
  document.addEventListener("focusin", (event) => light(event.target));
  document.addEventListener("click", (event) => {
    light(event.target);
    if (event.target.closest?.('button[aria-disabled="true"]')) event.preventDefault();
    const nails = event.target.closest?.("#rail [data-line]");
    if (nails) document.querySelector(`#line-${nails.dataset.line} details`)?.setAttribute("open", "");
  });

  document.addEventListener("keydown", (event) => {
    const typing = event.target.matches?.("input:not([type=checkbox]), select, textarea");
    if (typing || !(event.ctrlKey || event.metaKey) || event.altKey || event.key.toLowerCase() !== "z") return;
    const button = document.getElementById(event.shiftKey ? "redo" : "undo");
    if (!button) return;
    event.preventDefault();
    button.click();
  });
})();
