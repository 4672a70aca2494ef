// Gestures at a bench's page, each on something that can be seen; then waits for the act to be acknowledged.
const [gestures, done] = arguments;
const seen = (css, root = document) => [...root.querySelectorAll(css)].find((node) => node.checkVisibility());
const needed = (css, root) => {
  const node = seen(css, root);
  if (!node) throw new Error(`nothing to be seen at ${css}`);
  return node;
};
const seq = () => Number(document.getElementById("frames")?.dataset.seq);
const says = (node, wanted) => {
  const data = new FormData(node);
  const same = ([name, value]) => data.get(name) == value || Number(data.get(name)) === value;
  return Object.entries(wanted).every(same);
};
const inHand = "#hands [data-hand]:not([hidden])";
const can = {
  take(...controls) {
    const node = controls.map((control) => seen(`#c_${control}`)).find(Boolean);
    if (!node) throw new Error(`no ${controls} to be taken`);
    node.dispatchEvent(new MouseEvent("click", { bubbles: true }));
  },
  do(kind, wanted) {
    const forms = [...document.querySelectorAll(`${inHand} .buttons form`)];
    const form = forms.find((node) => says(node, { kind, ...wanted }) && node.checkVisibility());
    if (form) return can.click(form.querySelector("button"));
    const exact = `${inHand} #x_${kind === "level" ? "gauge" : wanted.valve}`;
    if (!seen(exact)) {
      const there = forms.map((node) => JSON.stringify(Object.fromEntries(new FormData(node))));
      throw new Error(`nothing says ${JSON.stringify(wanted)} among ${there.join(" ")}`);
    }
    can.write(exact, wanted.to);
    can.click(needed(exact).form.querySelector("button"));
  },
  click(button) {
    if (button.disabled || button.getAttribute("aria-disabled") === "true") throw new Error("it cannot be done now");
    button.click();
  },
  press: (css) => can.click(needed(css)),
  open(paper) {
    const tab = needed(`#tab_${paper}`);
    if (tab.getAttribute("aria-selected") !== "true") tab.click();
  },
  report() {
    if (!seen("#report")) needed("#open_report").click();
  },
  jot: () => can.click(needed("#jot_value").form.querySelector("button")),
  write(css, value) {
    const field = needed(css);
    field.focus();
    field.value = value;
    field.dispatchEvent(new Event("input", { bubbles: true }));
    field.dispatchEvent(new Event("change", { bubbles: true }));
  },
};
const tick = () => new Promise((next) => requestAnimationFrame(next));
// What is still being drawn is there in a moment.
const patiently = async (gesture, until = Date.now() + 5000) => {
  for (;;) {
    try {
      return gesture();
    } catch (error) {
      if (Date.now() > until) throw error;
      await tick();
    }
  }
};
const before = seq();
const settled = new Promise((next) => {
  document.addEventListener("htmx:afterSettle", () => seq() === before + 1 && next("acknowledged"));
  const said = () => document.getElementById("message").textContent;
  setTimeout(() => next(`not acknowledged, ${before} then ${seq()}: ${said()}`), 12000);
});
(async () => {
  for (const [name, ...what] of gestures) await patiently(() => can[name](...what));
  return settled;
})().then(done, (error) => done(error.message));
