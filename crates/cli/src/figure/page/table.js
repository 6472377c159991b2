// Tables are sorted by their heads and copied as a spreadsheet takes them; the contents say where one is.
"use strict";
(() => {
  // A cell without the room that lines numbers up, and with the minus sign that programs read.
  const plain = (cell) => cell.textContent.replace(/[\u2007\u2008]/g, "").replace(/\u2212/g, "-").trim();
  const numberOf = (text) => (/^[-+]?[\d.]/.test(text) ? parseFloat(text) : text.startsWith("<") ? 0 : NaN);

  const order = (place, direction) => (one, other) => {
    const [a, b] = [one, other].map((row) => plain(row.cells[place]));
    const [x, y] = [numberOf(a), numberOf(b)];
    const isNumeric = !Number.isNaN(x) && !Number.isNaN(y);
    return direction * (isNumeric ? x - y : a.localeCompare(b, "en", { numeric: true }));
  };

  const sortBy = (table, head, rows) => {
    const next = { none: "ascending", ascending: "descending", descending: "none" }[head.getAttribute("aria-sort")];
    table.querySelectorAll("th").forEach((other) => other.setAttribute("aria-sort", "none"));
    head.setAttribute("aria-sort", next);
    const sorted = next === "none" ? rows : [...rows].sort(order(head.cellIndex, next === "ascending" ? 1 : -1));
    table.tBodies[0].append(...sorted);
  };

  const copy = async (table, button) => {
    const lines = Array.from(table.rows).map((row) => Array.from(row.cells).map(plain).join("\t"));
    const text = `${lines.join("\n")}\n`;
    try {
      await navigator.clipboard.writeText(text);
    } catch {
      // A page that was opened from a file may not be allowed to, but may copy what is selected.
      const area = document.body.appendChild(document.createElement("textarea"));
      area.value = text;
      area.select();
      document.execCommand("copy");
      area.remove();
    }
    button.textContent = "Copied";
    setTimeout(() => { button.textContent = "Copy table"; }, 1500);
  };

  document.querySelectorAll(".table table").forEach((table) => {
    const rows = Array.from(table.tBodies[0]?.rows ?? []);
    table.querySelectorAll("th").forEach((head) => {
      Object.entries({ "aria-sort": "none", tabindex: "0" }).forEach(([key, text]) => head.setAttribute(key, text));
      head.addEventListener("click", () => sortBy(table, head, rows));
      head.addEventListener("keydown", (event) => { if (event.key === "Enter") sortBy(table, head, rows); });
    });
    const button = document.createElement("button");
    button.type = "button";
    button.className = "copy";
    button.textContent = "Copy table";
    button.addEventListener("click", () => copy(table, button));
    table.parentElement.after(button);
  });

  const links = new Map(Array.from(document.querySelectorAll("nav a")).map((link) => [link.hash.slice(1), link]));
  const watch = new IntersectionObserver((seen) => {
    const here = seen.find((one) => one.isIntersecting);
    if (!here) return;
    links.forEach((link) => link.classList.remove("here"));
    links.get(here.target.id)?.classList.add("here");
  }, { rootMargin: "-5% 0px -80% 0px" });
  links.forEach((_, id) => {
    const target = document.getElementById(id);
    if (target) watch.observe(target);
  });
})();
