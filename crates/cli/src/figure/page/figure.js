// Figures answer to the pointer: values at a hairline, zoom by dragging, series switched off by their names.
"use strict";
(() => {
  const make = (name, attributes, parent) => {
    const element = document.createElementNS("http://www.w3.org/2000/svg", name);
    Object.entries(attributes).forEach(([key, value]) => element.setAttribute(key, value));
    return parent.appendChild(element);
  };
  const minus = (text) => text.replace("-", "−");
  const shown = (value) => minus(String(Number(value.toPrecision(6))));
  const isNumber = (value) => typeof value === "number";

  // A scale is [low, high, place of low, place of high].
  const place = ([low, high, first, last], value) => first + ((value - low) / (high - low)) * (last - first);
  const value = ([low, high, first, last], at) => low + ((at - first) / (last - first)) * (high - low);

  // Round values between two others, and the decimals they need.
  const roundValues = (low, high, wanted) => {
    const rough = (high - low) / wanted;
    const power = 10 ** Math.floor(Math.log10(rough));
    const step = [1, 2, 5, 10].map((k) => k * power).find((size) => size >= rough);
    const first = Math.ceil(low / step);
    const count = Math.max(0, Math.floor(high / step) - first + 1);
    const decimals = Math.min(12, Math.max(0, -Math.floor(Math.log10(step) + 1e-9)));
    return Array.from({ length: count }, (_, k) => ((first + k) * step).toFixed(decimals));
  };

  // Of places along a panel every how many have a label.
  const STEPS = [1, 2, 3, 4, 6, 12, 24, 48, 60, 120, 240, 600, 1200];

  // Where the shapes of a panel are drawn when nothing is zoomed.
  const originals = new WeakMap();
  const original = (shape, read) => {
    if (!originals.has(shape)) originals.set(shape, read());
    return originals.get(shape);
  };
  const numbers = (shape, names) => names.map((name) => Number(shape.getAttribute(name)));

  // Moves a shape to where its values are on other scales; `x` and `y` give the new place of an old one.
  const move = (shape, x, y) => {
    if (shape.tagName === "polyline" || shape.tagName === "polygon") {
      const points = original(shape, () => shape.getAttribute("points").split(" ").map((one) => one.split(",").map(Number)));
      shape.setAttribute("points", points.map(([a, b]) => `${x(a).toFixed(2)},${y(b).toFixed(2)}`).join(" "));
    } else if (shape.tagName === "line") {
      const [x1, y1, x2, y2] = original(shape, () => numbers(shape, ["x1", "y1", "x2", "y2"]));
      Object.entries({ x1: x(x1), y1: y(y1), x2: x(x2), y2: y(y2) }).forEach(([key, at]) => shape.setAttribute(key, at));
    } else if (shape.tagName === "rect") {
      const [left, top, width, height] = original(shape, () => numbers(shape, ["x", "y", "width", "height"]));
      const isDot = shape.classList.contains("dot");
      const corner = isDot
        ? [x(left + width / 2) - width / 2, y(top + height / 2) - height / 2, width, height]
        : [x(left), y(top), x(left + width) - x(left), y(top + height) - y(top)];
      ["x", "y", "width", "height"].forEach((key, k) => shape.setAttribute(key, corner[k]));
    } else if (shape.tagName === "g" && shape.hasAttribute("transform")) {
      const [all, left, top] = original(shape, () => shape.getAttribute("transform").match(/translate\(([-\d.]+) ([-\d.]+)\)/));
      const moved = `translate(${x(Number(left)).toFixed(2)} ${y(Number(top)).toFixed(2)})`;
      shape.setAttribute("transform", shape.getAttribute("transform").replace(/translate\([^)]*\)/, all ? moved : ""));
    } else {
      Array.from(shape.children).forEach((child) => move(child, x, y));
    }
  };

  class Panel {
    constructor(figure, data, number) {
      Object.assign(this, data, { figure, number, x0: data.x, y0: data.y });
      this.titles = figure.data.names[data.names];
      const parts = (name) => Array.from(figure.svg.querySelectorAll(`.${name}[data-panel="${number}"]`));
      this.inside = parts("inside");
      this.axes = parts("axes");
      this.clip = `within-${figure.number}-${number}`;
      const [left, top, right, bottom] = this.corners;
      const clip = make("clipPath", { id: this.clip }, figure.svg);
      make("rect", { x: left, y: top, width: right - left, height: bottom - top }, clip);
      this.hairline = make("line", { class: "hairline", y1: top, y2: bottom, visibility: "hidden" }, figure.above);
    }

    holds([x, y]) {
      const [left, top, right, bottom] = this.corners;
      return this.titles.length > 0 && x >= left && x <= right && y >= top && y <= bottom;
    }

    isVisible(at) {
      return at >= this.x[0] && at <= this.x[1];
    }

    // The place nearest to a point.
    nearest(x) {
      const wanted = value(this.x, x);
      let best = -1;
      this.at.forEach((at, k) => {
        if (this.isVisible(at) && (best < 0 || Math.abs(at - wanted) < Math.abs(this.at[best] - wanted))) best = k;
      });
      return best;
    }

    // What there is to read at a place: name, colour, text.
    read(k) {
      const hidden = this.figure.hidden;
      const lines = this.lines.filter((line) => !hidden.has(line.name) && isNumber(line.values[k]));
      const strips = this.strips.filter((strip) => !hidden.has(strip.name) && isNumber(strip.low[k]));
      return [
        ...lines.map((line) => [line.name, line.ink, shown(line.values[k])]),
        ...strips.map((strip) => [strip.name, strip.ink, `${shown(strip.low[k])} to ${shown(strip.high[k])}`]),
      ];
    }

    zoom(low, high) {
      this.x = [low, high, this.x0[2], this.x0[3]];
      this.y = this.reach() ?? this.y0;
      this.draw();
    }

    whole() {
      this.x = this.x0;
      this.y = this.y0;
      this.draw();
    }

    // The scale of values of what is visible.
    reach() {
      const hidden = this.figure.hidden;
      const all = [
        ...this.lines.filter((line) => !hidden.has(line.name)).map((line) => line.values),
        ...this.strips.filter((strip) => !hidden.has(strip.name)).flatMap((strip) => [strip.low, strip.high]),
      ];
      const values = all.flatMap((list) => list.filter((one, k) => isNumber(one) && this.isVisible(this.at[k])));
      const low = values.reduce((a, b) => Math.min(a, b), Infinity);
      const high = values.reduce((a, b) => Math.max(a, b), -Infinity);
      if (!(high > low)) return null;
      const room = 0.06 * (high - low);
      return [low - room, high + room, this.y0[2], this.y0[3]];
    }

    draw() {
      const isWhole = this.x === this.x0;
      const [x, y] = [(at) => place(this.x, value(this.x0, at)), (at) => place(this.y, value(this.y0, at))];
      this.inside.forEach((part) => {
        move(part, x, y);
        if (isWhole) part.removeAttribute("clip-path");
        else part.setAttribute("clip-path", `url(#${this.clip})`);
      });
      this.axes.forEach((part) => { part.style.display = isWhole ? "" : "none"; });
      this.own?.remove();
      this.own = null;
      if (!isWhole) this.drawAxes();
    }

    drawAxes() {
      const [left, , right, bottom] = this.corners;
      this.own = make("g", { class: "zoomed" }, this.figure.svg);
      this.axes[0]?.before(this.own);
      const label = (text, x, y, anchor) => {
        make("text", { class: "tick", x, y, "text-anchor": anchor }, this.own).textContent = text;
      };
      roundValues(this.y[0], this.y[1], bottom - this.corners[1] > 200 ? 6 : 4).forEach((text) => {
        const y = place(this.y, Number(text));
        make("line", { class: "grid", x1: left, x2: right, y1: y, y2: y }, this.own);
        label(minus(text), left - 10, y + 4.5, "end");
      });
      make("line", { class: "axis", x1: left, x2: right, y1: bottom, y2: bottom }, this.own);
      const visible = this.at.map((at, k) => k).filter((k) => this.isVisible(this.at[k]));
      const widest = Math.max(...visible.map((k) => this.titles[k].length)) * 8 + 26;
      const least = (visible.length * widest) / (right - left);
      const step = STEPS.find((one) => one >= least) ?? Math.ceil(least);
      // A year begins at a label, where there are years.
      const first = Math.max(0, this.titles.findIndex((title) => /-(01|Q1|W01|01-01)$/.test(title)));
      visible.filter((k) => (k - first) % step === 0).forEach((k) => {
        const x = place(this.x, this.at[k]);
        make("line", { class: "axis", x1: x, x2: x, y1: bottom, y2: bottom + 5 }, this.own);
        label(this.titles[k], x, bottom + 21, "middle");
      });
    }
  }

  class Figure {
    constructor(svg, number) {
      Object.assign(this, { svg, number, hidden: new Set(), data: JSON.parse(svg.dataset.figure), at: null, from: null });
      // The browser would show the titles over the readout.
      const title = svg.querySelector(":scope > title");
      svg.setAttribute("aria-label", title?.textContent ?? "");
      svg.querySelectorAll(":scope > title, .series title").forEach((own) => own.remove());
      this.above = make("g", {}, svg);
      this.panels = this.data.panels.map((panel, k) => new Panel(this, panel, k));
      this.choice = make("rect", { class: "choice", visibility: "hidden" }, this.above);
      this.readout = document.createElement("div");
      this.readout.className = "readout";
      this.readout.hidden = true;
      svg.parentElement.append(this.readout);
      this.keys = Array.from(svg.querySelectorAll(".key"));
      this.keys.forEach((key) => this.makeKey(key));
      this.listen();
      this.explain();
    }

    // What can be done, below the figure.
    explain() {
      if (!this.panels.some((panel) => panel.titles.length > 0)) return;
      const words = ["point to read values"];
      if (this.panels.some((panel) => panel.zooms)) words.push("drag to zoom, double-click to go back");
      if (this.keys.length > 0) words.push("click a name in the key to hide its series");
      const caption = document.createElement("figcaption");
      caption.textContent = `${words.join("; ")}.`.replace(/^p/, "P");
      this.svg.parentElement.append(caption);
    }

    listen() {
      const on = (name, act) => this.svg.addEventListener(name, act);
      on("pointermove", (event) => this.pointAt(this.spot(event)));
      on("pointerleave", () => this.leave());
      on("pointerdown", (event) => this.start(event));
      on("pointerup", (event) => this.end(this.spot(event)));
      on("pointercancel", () => this.cancel());
      on("dblclick", () => this.whole());
      on("keydown", (event) => this.press(event));
      on("blur", () => this.leave());
      this.svg.setAttribute("tabindex", "0");
    }

    spot(event) {
      const seen = this.svg.getBoundingClientRect();
      const { width, height } = this.svg.viewBox.baseVal;
      return [((event.clientX - seen.left) * width) / seen.width, ((event.clientY - seen.top) * height) / seen.height];
    }

    // Panels of the same places answer together.
    beside(panel) {
      return this.panels.filter((other) => other.titles === panel.titles && other.zooms === panel.zooms);
    }

    pointAt(spot) {
      if (this.from) this.choose(spot);
      const panel = this.panels.find((one) => one.holds(spot));
      const k = panel ? panel.nearest(spot[0]) : -1;
      if (k < 0) return this.leave();
      this.show(panel, k);
    }

    show(panel, k) {
      this.leave();
      this.at = [panel, k];
      const group = this.beside(panel);
      group.forEach((one) => {
        const x = place(one.x, one.at[k]);
        one.hairline.setAttribute("x1", x);
        one.hairline.setAttribute("x2", x);
        one.hairline.setAttribute("visibility", "visible");
      });
      // A line that two panels show is read once.
      const all = group.flatMap((one) => one.read(k));
      const rows = all.filter((row, k) => all.findIndex((other) => other.join() === row.join()) === k);
      const head = document.createElement("b");
      head.textContent = panel.titles[k];
      this.readout.replaceChildren(head, ...rows.map(([name, ink, text]) => this.row(name, ink, text)));
      this.readout.hidden = false;
      this.putBeside(place(panel.x, panel.at[k]), panel.corners[1]);
    }

    row(name, ink, text) {
      const row = document.createElement("div");
      const swatch = document.createElementNS("http://www.w3.org/2000/svg", "svg");
      swatch.setAttribute("class", "swatch");
      make("rect", { width: 12, height: 4, y: 4, fill: ink }, swatch);
      const number = document.createElement("span");
      number.textContent = text;
      row.append(swatch, `${name} `, number);
      return row;
    }

    // The readout stands beside the hairline, on the side that has room.
    putBeside(x, y) {
      const seen = this.svg.getBoundingClientRect();
      const { width, height } = this.svg.viewBox.baseVal;
      const [left, top] = [(x * seen.width) / width, (y * seen.height) / height];
      const isRight = left + this.readout.offsetWidth + 16 < seen.width;
      this.readout.style.left = `${Math.max(0, isRight ? left + 12 : left - 12 - this.readout.offsetWidth)}px`;
      this.readout.style.top = `${top + 6}px`;
    }

    leave() {
      this.at = null;
      this.readout.hidden = true;
      this.panels.forEach((panel) => panel.hairline.setAttribute("visibility", "hidden"));
    }

    start(event) {
      const spot = this.spot(event);
      const panel = this.panels.find((one) => one.zooms && one.holds(spot));
      if (!panel || event.button !== 0) return;
      this.from = [panel, spot[0]];
      this.svg.setPointerCapture(event.pointerId);
      event.preventDefault();
    }

    // The stretch between where dragging began and where the pointer is.
    stretch([x]) {
      const [panel, start] = this.from;
      const within = (at) => Math.min(panel.corners[2], Math.max(panel.corners[0], at));
      return [within(Math.min(start, x)), within(Math.max(start, x))];
    }

    choose(spot) {
      const [panel] = this.from;
      const [left, right] = this.stretch(spot);
      const [, top, , bottom] = panel.corners;
      const corners = { x: left, y: top, width: right - left, height: bottom - top, visibility: "visible" };
      Object.entries(corners).forEach(([key, at]) => this.choice.setAttribute(key, at));
    }

    end(spot) {
      if (!this.from) return;
      const [panel] = this.from;
      const [left, right] = this.stretch(spot);
      this.cancel();
      const [low, high] = [value(panel.x, left), value(panel.x, right)];
      // At least three places, so that there is something to see.
      const places = panel.at.filter((at) => at >= low && at <= high).length;
      if (right - left < 8 || places < 3) return;
      this.beside(panel).forEach((one) => one.zoom(low, high));
      this.pointAt(spot);
    }

    cancel() {
      this.from = null;
      this.choice.setAttribute("visibility", "hidden");
    }

    whole() {
      this.leave();
      this.panels.filter((panel) => panel.x !== panel.x0).forEach((panel) => panel.whole());
    }

    press(event) {
      if (event.key === "Escape") return this.whole();
      const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      if (!step) return;
      const first = this.panels.find((panel) => panel.titles.length > 0);
      const [panel, k] = this.at ?? [first, step > 0 ? -1 : first?.at.length];
      if (!panel || !isNumber(panel.at[k + step]) || !panel.isVisible(panel.at[k + step])) return;
      event.preventDefault();
      this.show(panel, k + step);
    }

    makeKey(key) {
      const { x, y, width, height } = key.getBBox();
      make("rect", { class: "target", x: x - 4, y: y - 4, width: width + 8, height: height + 8 }, key);
      Object.entries({ role: "button", tabindex: "0", "aria-pressed": "true", "aria-label": key.dataset.name })
        .forEach(([name, text]) => key.setAttribute(name, text));
      key.addEventListener("click", () => this.toggle(key));
      key.addEventListener("keydown", (event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        this.toggle(key);
      });
    }

    toggle(key) {
      const name = key.dataset.name;
      const isHidden = !this.hidden.delete(name);
      if (isHidden) this.hidden.add(name);
      key.setAttribute("aria-pressed", String(!isHidden));
      this.svg.querySelectorAll(".series").forEach((one) => {
        if (one.dataset.name === name) one.style.display = isHidden ? "none" : "";
      });
      this.panels.filter((panel) => panel.x !== panel.x0).forEach((panel) => panel.zoom(panel.x[0], panel.x[1]));
    }
  }

  const figures = Array.from(document.querySelectorAll("svg[data-figure]")).map((svg, k) => new Figure(svg, k));
  window.addEventListener("beforeprint", () => figures.forEach((figure) => figure.whole()));
})();
