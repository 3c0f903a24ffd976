// Before the first paint, so that the night chart does not flash white.
if (localStorage.getItem("chart") === "night") document.documentElement.setAttribute("data-night", "");
