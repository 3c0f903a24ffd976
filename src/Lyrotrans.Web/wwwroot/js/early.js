// What is pressed or chosen before the page's scripts stand is kept, and done as soon as they do: until then a form would be sent as the
// browser sends one that no script minds, and nothing would come of it.
{
  const kept = [];
  const press = e => {
    const button = e.target.closest?.("button");
    if (button) keep(e, () => button.click());
  };
  const send = e => keep(e, () => e.target.requestSubmit(e.submitter));
  const choose = e => kept.push(() => e.target.dispatchEvent(new Event("change", { bubbles: true })));
  const keep = (e, again) => {
    e.preventDefault();
    e.stopImmediatePropagation();
    kept.push(again);
  };
  const early = Object.entries({ click: press, submit: send, change: choose });
  for (const [name, act] of early) document.addEventListener(name, act, true);
  // Those who listen to this event as well (htmx does) come first.
  document.addEventListener("DOMContentLoaded", () =>
    setTimeout(() => {
      for (const [name, act] of early) document.removeEventListener(name, act, true);
      for (const again of kept) again();
    }),
  );
}
