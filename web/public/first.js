// Set the theme before the first paint, so that a dark room stays dark.
(function () {
  var kept = localStorage.getItem("theme");
  var dark = kept ? kept === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.theme = dark ? "dark" : "light";
})();

// What the first screen asks is asked while its scripts are still on their way. Each answer is used
// once (src/api/early.ts), and soon or never.
(function () {
  var asked = (window.askedEarly = {});
  function ask(path) {
    var url = new URL(path, document.baseURI).href;
    var answer = (asked[url] = fetch(url));
    answer.catch(function () {});
    setTimeout(function () {
      delete asked[url];
    }, 10000);
    return answer;
  }
  ask("api/v1/session");
  // Somebody was signed in here (src/ui/person.ts); where they are no more, nothing is answered.
  if (!localStorage.getItem("someone")) return;
  if (location.href.split("#")[0] !== document.baseURI) return;
  ask("api/v1/today?q=&area=&kind=&only=&page=1");
  ask("api/v1/safety");
})();
