"use strict";
(function () {
  var byId = function (id) { return document.getElementById(id); };
  var each = function (selector, of) { Array.prototype.forEach.call(document.querySelectorAll(selector), of); };
  var form = document.querySelector(".choose");
  form.hidden = false;
  form.addEventListener("submit", function (event) { event.preventDefault(); });

  // Data set and metric: parts that are about others are left out.
  var set = byId("set");
  var metric = byId("metric");
  function choose() {
    each(".part", function (part) {
      var own = part.dataset.set;
      var hides = set && own !== "-1" && own !== set.value;
      hides = hides || (part.dataset.metric !== "" && part.dataset.metric !== metric.value);
      part.hidden = hides;
    });
  }
  if (set) { set.addEventListener("change", choose); }
  metric.addEventListener("change", choose);
  choose();

  // Candidates: rows of the others are left out, their marks fade.
  var boxes = Array.prototype.slice.call(document.querySelectorAll(".candidate input"));
  function filter() {
    var away = new Set(boxes.filter(function (b) { return !b.checked; }).map(function (b) { return b.value; }));
    each("tr[data-about]", function (row) { row.hidden = away.has(row.dataset.about); });
    each(".mark[data-about]", function (mark) { mark.classList.toggle("away", away.has(mark.dataset.about)); });
    byId("count").textContent = (boxes.length - away.size) + " of " + boxes.length;
  }
  function check(value) {
    boxes.forEach(function (b) { if (!b.closest("label").hidden) { b.checked = value; } });
    filter();
  }
  boxes.forEach(function (b) { b.addEventListener("change", filter); });
  byId("all").addEventListener("click", function () { check(true); });
  byId("none").addEventListener("click", function () { check(false); });
  byId("find").addEventListener("input", function () {
    var wanted = byId("find").value.toLowerCase();
    boxes.forEach(function (b) { b.closest("label").hidden = b.value.toLowerCase().indexOf(wanted) < 0; });
  });
  document.addEventListener("keydown", function (event) {
    var who = document.querySelector(".who");
    if (event.key === "Escape" && who.open) { who.open = false; who.querySelector("summary").focus(); }
  });

  // A click on a column's name sorts; what is undefined stays last.
  each("thead button", function (button) {
    button.addEventListener("click", function () {
      var head = button.closest("th");
      var column = Array.prototype.indexOf.call(head.parentNode.children, head);
      var number = button.dataset.number === "true";
      var rising = head.getAttribute("aria-sort") ? head.getAttribute("aria-sort") !== "ascending" : !number;
      Array.prototype.forEach.call(head.parentNode.children, function (h) { h.removeAttribute("aria-sort"); });
      head.setAttribute("aria-sort", rising ? "ascending" : "descending");
      var body = head.closest("table").tBodies[0];
      var rows = Array.prototype.slice.call(body.rows);
      rows.sort(function (a, b) {
        var x = a.cells[column];
        var y = b.cells[column];
        if (!number) { return (rising ? 1 : -1) * x.textContent.localeCompare(y.textContent); }
        if (x.dataset.value === "" || y.dataset.value === "") {
          return (x.dataset.value === "" ? 1 : 0) - (y.dataset.value === "" ? 1 : 0);
        }
        return (rising ? 1 : -1) * (Number(x.dataset.value) - Number(y.dataset.value));
      });
      rows.forEach(function (row) { body.appendChild(row); });
    });
  });

  // What a mark says is shown beside the pointer at once, in place of the browser's own late title.
  var tip = byId("tip");
  each(".mark > title", function (title) {
    title.parentNode.dataset.tip = title.textContent;
    title.parentNode.removeChild(title);
  });
  function point(event) {
    var mark = event.target.closest ? event.target.closest("[data-tip]") : null;
    if (!mark || mark.classList.contains("away")) { tip.hidden = true; return; }
    if (tip.textContent !== mark.dataset.tip) { tip.textContent = mark.dataset.tip; }
    tip.hidden = false;
    var box = tip.getBoundingClientRect();
    var x = Math.max(4, Math.min(event.clientX + 14, window.innerWidth - box.width - 8));
    var y = event.clientY + 18 + box.height > window.innerHeight ? event.clientY - box.height - 10 : event.clientY + 18;
    tip.style.left = x + "px";
    tip.style.top = Math.max(4, y) + "px";
  }
  document.addEventListener("pointermove", point);
  document.addEventListener("pointerdown", point);
  document.addEventListener("scroll", function () { tip.hidden = true; }, { passive: true });
})();
