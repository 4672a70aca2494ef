// What spec/support/browser.rb asks of a page's sizes. A link within a sentence is as high as its line; a box to tick
// is as big as its label.
(() => {
  const PRESSED = "a[href], button, input, select, textarea, summary, [role=radio]";
  const LEAST_PX = 43.5;
  const asked = (node) => node.type === "checkbox" || node.type === "radio";
  const shown = (node) => node.checkVisibility({visibilityProperty: true}) && !node.closest("svg, .visually-hidden");
  const said = (node) => node.getAttribute("aria-label") || node.textContent.trim() || node.name;
  const small = (node) => {
    const box = ((asked(node) && node.closest("label, .form-check")) || node).getBoundingClientRect();
    return box.width > 1 && box.height > 1 && (box.width < LEAST_PX || box.height < LEAST_PX);
  };
  window.__sizes = {
    small: () => [...document.querySelectorAll(PRESSED)]
      .filter((node) => shown(node) && !node.disabled && !node.matches(".skip"))
      .filter((node) => node.tagName !== "A" || getComputedStyle(node).display !== "inline")
      .filter(small)
      .map(said),
    cut: () => [...document.querySelectorAll("button, h1, h2, h3, p, td, th, label, a, li")]
      .filter(shown)
      .filter((node) => !["visible", "auto", "scroll"].includes(getComputedStyle(node).overflowX))
      .filter((node) => node.scrollWidth > node.clientWidth + 1)
      .map(said),
    over: () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
  };
})();
