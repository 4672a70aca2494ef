// Plays keyframes that the server worked out, and keeps track of what is in hand. It knows nothing of water.
(() => {
  "use strict";
  const byId = (id) => document.getElementById(id);
  const play = { frames: null, offset: 0, held: "none", tab: "notebook", focus: null };

  // --- time: the simulated clock of the server, carried on by this browser's
  const simNow = () => (play.frames && play.frames.paused ? play.frames.now_ms : performance.now() + play.offset);

  function takeFrames() {
    const node = byId("frames");
    if (!node || node.dataset.frames === play.raw) return;
    play.raw = node.dataset.frames;
    const before = play.frames && play.frames.paused;
    play.frames = JSON.parse(node.dataset.frames);
    const line = byId("bench") && byId("message");
    if (line && play.frames.paused) {
      line.textContent = "The exam is paused. Your clock stands still; go on when it does.";
      line.className = "message message-moved";
    } else if (line && before) {
      line.textContent = "";
    }
    // By when they came, not by when the picture was ready.
    const offset = play.frames.now_ms - (play.arrived === undefined ? performance.now() : play.arrived);
    play.arrived = undefined;
    // A little jitter is smoothed away; a skip of time is taken at once.
    if (play.fresh === undefined || Math.abs(offset - play.offset) > 700) play.offset = offset;
    else play.offset += (offset - play.offset) * 0.1;
    play.fresh = true;
  }

  function at(points, ms) {
    if (ms <= points[0][0]) return points[0][1];
    for (let i = 1; i < points.length; i += 1) {
      if (ms <= points[i][0]) {
        const [t0, v0] = points[i - 1];
        const [t1, v1] = points[i];
        return typeof v1 === "number" ? v0 + ((v1 - v0) * (ms - t0)) / (t1 - t0 || 1) : v0;
      }
    }
    return points[points.length - 1][1];
  }

  // Draws what has changed since it was drawn last: nothing while time stands still.
  const drawn = { ms: null, frames: null };

  function draw() {
    const ms = play.frames ? simNow() : null;
    if (play.frames && (ms !== drawn.ms || play.frames !== drawn.frames)) {
      drawn.ms = ms;
      drawn.frames = play.frames;
      const psid = at(play.frames.needle, ms);
      const needle = document.querySelector("[data-needle]");
      if (needle) needle.setAttribute("transform", `rotate(${(psid * 18 - 135).toFixed(2)})`);
      const number = document.querySelector("[data-number]");
      if (number) {
        number.textContent = psid.toFixed(1);
        const rate = (psid - at(play.frames.needle, ms - 500)) / 0.5;
        document
          .querySelector("[data-trend]")
          .setAttribute("d", `M0 51 h${Math.max(-92, Math.min(92, rate * 46)).toFixed(1)}`);
      }
      const poppet = document.querySelector("[data-poppet]");
      if (poppet && play.frames.poppet)
        poppet.setAttribute(
          "transform",
          poppet
            .getAttribute("transform")
            .replace(/ [\d.]+\)/, ` ${(124 - at(play.frames.poppet, ms) * 14).toFixed(1)})`),
        );
      const tube = document.querySelector("[data-tube]");
      if (tube && play.frames.tube) {
        const gap = (9 - Math.max(3, Math.min(9, at(play.frames.tube, ms)))) * 14;
        tube.setAttribute("y", 28 + gap);
        tube.setAttribute("height", 84 - gap);
      }
      const line = document.querySelector("[data-line-gauge]");
      if (line && play.frames.line_gauge) line.textContent = Math.round(at(play.frames.line_gauge, ms));
      if (play.frames.inside)
        document.querySelectorAll("[data-inside]").forEach((node) => {
          const points = play.frames.inside[node.dataset.inside];
          if (points) node.textContent = at(points, ms).toFixed(1);
        });
      const left = document.querySelector("[data-left]");
      if (left && play.frames.left_ms !== undefined) {
        const rest = Math.max(
          0,
          Math.floor((play.frames.left_ms - (play.frames.paused ? 0 : ms - play.frames.now_ms)) / 1000),
        );
        const words = `${Math.floor(rest / 60)}:${String(rest % 60).padStart(2, "0")} left`;
        if (left.textContent !== words) left.textContent = words;
        left.classList.toggle("short", rest < 300);
      }
      for (const outlet of document.querySelectorAll("[data-outlet]")) {
        const changes = play.frames.outlets[outlet.dataset.outlet];
        if (!changes) continue;
        const word = at(changes, ms);
        if (outlet.dataset.word !== word) {
          outlet.dataset.word = word;
          outlet.setAttribute("class", outlet.getAttribute("class").replace(/flow-\w+/, `flow-${word}`));
          document.querySelectorAll(`[data-outlet-word="${outlet.dataset.outlet}"]`).forEach((node) => {
            node.textContent = word;
          });
        }
      }
      const clock = byId("clock");
      const seconds = Math.max(0, Math.floor(ms / 1000));
      const text = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
      if (clock && clock.textContent !== text) clock.textContent = text;
    }
    requestAnimationFrame(draw);
  }

  // --- what is in hand
  function hold(control) {
    play.held = control;
    if (play.tab === "site") {
      play.tab = "notebook";
      showTab();
    }
    showHeld();
  }

  function showHeld() {
    const panels = document.querySelectorAll("[data-hand]");
    if (!panels.length) return;
    const wanted = [...panels].some((panel) => panel.dataset.hand === play.held) ? play.held : "none";
    panels.forEach((panel) => {
      panel.hidden = panel.dataset.hand !== wanted;
    });
    document
      .querySelectorAll("[data-control]")
      .forEach((node) => node.classList.toggle("in-hand", node.dataset.control === wanted));
  }

  function showTab() {
    document.querySelectorAll("[data-tab]").forEach((tab) => {
      const chosen = tab.dataset.tab === play.tab;
      tab.setAttribute("aria-selected", chosen);
      tab.tabIndex = chosen ? 0 : -1;
      const pane = byId(`pane_${tab.dataset.tab}`);
      if (pane) pane.hidden = !chosen;
    });
    // Looking around, one sees the place and not the bench.
    const site = byId("bench") && byId("site");
    if (site) site.hidden = play.tab !== "site";
  }

  function toggleReport(open) {
    const report = byId("report");
    if (!report) return;
    report.hidden = !open;
    byId("open_report").setAttribute("aria-expanded", open);
    if (open) report.querySelector("input").focus();
  }

  document.addEventListener("click", (event) => {
    const control = event.target.closest("[data-control]");
    if (control && byId("bench")) return hold(control.dataset.control);
    const hot = event.target.closest("[data-look]");
    if (hot) {
      const button = byId(`look_${hot.dataset.look}`);
      if (button) button.click();
      return;
    }
    const tab = event.target.closest("[data-tab]");
    if (tab) {
      play.tab = tab.dataset.tab;
      return showTab();
    }
    const inside = event.target.closest("#inside");
    if (inside) {
      const on = byId("bench").classList.toggle("show-inside");
      return inside.setAttribute("aria-pressed", on);
    }
    if (event.target.closest("#open_report")) return toggleReport(byId("report").hidden);
    if (event.target.closest("#close_report")) return toggleReport(false);
    const seek = event.target.closest("[data-seek]");
    if (seek) scrubTo(Number(seek.dataset.seek));
    if (event.target.closest("#replay_play")) togglePlay();
  });

  document.addEventListener("keydown", (event) => {
    const typing = event.target.closest("input, select, textarea");
    const control = event.target.closest && event.target.closest("[data-control]");
    if (control && (event.key === "Enter" || event.key === " ")) {
      event.preventDefault();
      return hold(control.dataset.control);
    }
    const tab = event.target.closest("[data-tab]");
    if (tab && (event.key === "ArrowRight" || event.key === "ArrowLeft")) {
      const tabs = [...document.querySelectorAll("[data-tab]")];
      const next = tabs[(tabs.indexOf(tab) + (event.key === "ArrowRight" ? 1 : tabs.length - 1)) % tabs.length];
      play.tab = next.dataset.tab;
      showTab();
      return next.focus();
    }
    if (typing || event.ctrlKey || event.altKey || event.metaKey || !byId("bench")) return;
    if (event.key === "Escape") return toggleReport(false);
    const press = { "+": "+⅛", "-": "−⅛", 0: "close", 9: "open" }[event.key];
    if (press) {
      const panel = document.querySelector(`[data-hand="${play.held}"]`);
      const names = { close: ["Close"], open: ["Open", "Open wide"] }[press] || [press];
      const button =
        panel && [...panel.querySelectorAll("button")].find((node) => names.includes(node.textContent.trim()));
      if (button) button.click();
      return;
    }
    const target = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
    if (target) {
      event.preventDefault();
      hold(target.dataset.control);
      target.focus();
    }
  });

  // --- acts: each gets a number of its own, the moment that was on screen, and the newest act this page knows of

  // This page, among all that may show the bench. Random numbers are there without HTTPS too; randomUUID is not.
  const windowId = [...crypto.getRandomValues(new Uint8Array(8))]
    .map((byte) => byte.toString(16).padStart(2, "0"))
    .join("");
  let number = 0;

  const isPoll = (detail) => detail.elt && detail.elt.id === "frames";

  document.addEventListener("htmx:configRequest", (event) => {
    const frames = byId("frames");
    if (!frames) return;
    event.detail.parameters.window = windowId;
    if (event.detail.verb !== "post") return;
    number += 1;
    event.detail.parameters.action_id = event.detail.elt.dataset.actionId || `${windowId}-${number}`;
    event.detail.parameters.seen_ms = Math.round(simNow());
    event.detail.parameters.seq = frames.dataset.seq;
  });

  // Acts go one after the other, so that each knows of the one before. While any is on its way the page asks for
  // nothing: an answer from before the act must not overrule it.
  const acts = { waiting: 0, chain: Promise.resolve(), current: null, inFlight: new WeakMap() };
  const polls = { running: null, aborted: new WeakSet() };

  function holdPolls() {
    if (!polls.running) return;
    polls.aborted.add(polls.running);
    polls.running.abort();
    polls.running = null;
  }

  document.addEventListener("htmx:confirm", (event) => {
    if (!byId("bench")) return;
    if (isPoll(event.detail) && acts.waiting > 0) return event.preventDefault();
    if (event.detail.verb !== "post") return;
    event.preventDefault();
    // A question is asked when what was done before it is known.
    const { elt, question } = event.detail;
    const words = () => {
      const node = elt.dataset.question && byId(elt.dataset.question);
      return node ? node.dataset.words : question;
    };
    if (question)
      return void acts.chain.then(() => {
        if (window.confirm(words())) send(event.detail);
      });
    send(event.detail);
  });

  function send(detail) {
    acts.waiting += 1;
    acts.chain = acts.chain.then(
      () =>
        new Promise((done) => {
          holdPolls();
          let over = false;
          acts.current = () => {
            if (over) return;
            over = true;
            acts.waiting -= 1;
            setTimeout(done, 0);
          };
          setTimeout(acts.current, 8000);
          detail.issueRequest(true);
        }),
    );
  }

  // An answer ends the act it answers: one that comes after its time is up must not end the next.
  document.addEventListener("htmx:beforeSend", (event) => {
    const { xhr, requestConfig } = event.detail;
    if (isPoll(event.detail)) polls.running = xhr;
    if (requestConfig.verb !== "post" || !acts.current) return;
    acts.inFlight.set(xhr, acts.current);
    acts.current = null;
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    const { xhr, failed } = event.detail;
    if (polls.running === xhr) polls.running = null;
    if (polls.aborted.has(xhr)) return;
    const finish = acts.inFlight.get(xhr);
    if (finish) finish();
    const line = byId("message");
    if (!line) return;
    if (!xhr.status) {
      line.textContent = "No connection. The bench waits; nothing acknowledged is lost.";
      line.className = "message message-refused";
      play.lost = true;
    } else if (failed) {
      line.textContent = "The server could not do that. Load the page again; nothing acknowledged is lost.";
      line.className = "message message-refused";
    } else if (play.lost) {
      line.textContent = "";
      play.lost = false;
    }
  });
  document.addEventListener("htmx:beforeSwap", () => {
    play.arrived = performance.now();
    play.focus = document.activeElement && document.activeElement.id;
  });
  document.addEventListener("htmx:load", settle);
  document.addEventListener("htmx:oobAfterSwap", settle);
  document.addEventListener("htmx:afterSettle", () => {
    settle();
    const node = play.focus && byId(play.focus);
    if (node && document.activeElement === document.body) node.focus({ preventScroll: true });
  });
  function settle() {
    drawn.frames = null;
    takeFrames();
    showHeld();
    showTab();
  }

  // Forms that lose something ask first; the room's tiles keep still while somebody is on one of them.
  document.addEventListener("submit", (event) => {
    const question = event.target.dataset.confirm;
    if (question && !window.confirm(question)) event.preventDefault();
  });

  // Report fields are kept as they are left.
  document.addEventListener("change", (event) => {
    const field = event.target.dataset && event.target.dataset.field;
    if (!field) return;
    const bench = byId("bench");
    byId("report_status").textContent = "Saving…";
    htmx
      .ajax("POST", `/attempts/${bench.dataset.attempt}/actions`, {
        source: event.target,
        swap: "none",
        values: { kind: "fill", field, value: event.target.value },
      })
      .catch(() => {});
  });

  // One box for all of a name.
  document.addEventListener("change", (event) => {
    const name = event.target.dataset && event.target.dataset.tickAll;
    if (!name) return;
    document.getElementsByName(name).forEach((box) => {
      box.checked = event.target.checked;
    });
  });

  // A form in which much is typed is not left by a slip of the finger.
  let unsaved = false;
  document.addEventListener("input", (event) => {
    if (event.target.closest("form[data-keep]")) unsaved = true;
  });
  document.addEventListener("submit", (event) => {
    if (event.target.closest("form[data-keep]") && !event.defaultPrevented) unsaved = false;
  });
  window.addEventListener("beforeunload", (event) => {
    if (unsaved) {
      event.preventDefault();
      event.returnValue = "";
    }
  });

  // A file that is ready is fetched at once; the link stays for those whose browser does not.
  window.addEventListener("DOMContentLoaded", () => {
    const link = document.querySelector("[data-fetch]");
    if (link) link.click();
  });

  // --- replay
  let timer = null;
  let pending = null;
  function scrubTo(ms) {
    const bar = byId("scrub");
    if (!bar) return;
    bar.value = ms;
    showActs(ms);
    clearTimeout(pending);
    pending = setTimeout(
      () =>
        htmx
          .ajax("GET", `${bar.dataset.url}?ms=${Math.round(ms)}`, { target: "#replay_scene", swap: "innerHTML" })
          .catch(() => {}),
      40,
    );
  }
  function showActs(ms) {
    let now = null;
    document.querySelectorAll(".acts li").forEach((item) => {
      item.classList.remove("now");
      if (Number(item.dataset.ms) <= ms) now = item;
    });
    if (now) {
      now.classList.add("now");
      now.parentNode.scrollTop = now.offsetTop - now.parentNode.offsetTop - 50;
    }
  }
  function togglePlay() {
    const button = byId("replay_play");
    const bar = byId("scrub");
    if (timer) {
      clearInterval(timer);
      timer = null;
    } else {
      if (Number(bar.value) >= Number(bar.max)) bar.value = 0;
      timer = setInterval(() => {
        const next = Number(bar.value) + 500;
        if (next > Number(bar.max)) return togglePlay();
        scrubTo(next);
      }, 250);
    }
    button.setAttribute("aria-pressed", timer !== null);
    button.textContent = timer ? "Pause" : "Play";
  }
  document.addEventListener("input", (event) => {
    if (event.target.id === "scrub") scrubTo(Number(event.target.value));
  });

  window.addEventListener("DOMContentLoaded", () => {
    settle();
    requestAnimationFrame(draw);
  });
})();
