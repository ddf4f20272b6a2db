// Set the theme before the first paint, so that a dark room stays dark.
(function () {
  var kept = localStorage.getItem("theme");
  var dark = kept ? kept === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.theme = dark ? "dark" : "light";
})();
