"""When a page has come to rest: nothing is asked of the server, no short delay is left, nothing says that it
is busy, nothing moves. A short delay (what is typed is kept half a second later) is not waited for: once
nothing else goes on it is let run at once, as it would be if the page were left alone."""

_WATCH = """((timersRun) => {
  const short = 1500, delays = new Map();
  let asked = 0, calm = 0;
  const real = {};
  for (const name of ["fetch", "setTimeout", "clearTimeout"]) real[name] = window[name].bind(window);
  window.fetch = async (...given) => {
    asked++;
    try {
      const answer = await real.fetch(...given);
      answer.clone().arrayBuffer().catch(() => null).finally(() => asked--);
      return answer;
    } catch (error) {
      asked--;
      throw error;
    }
  };
  if (timersRun) {
    window.setTimeout = (act, after = 0, ...given) => {
      const id = real.setTimeout(() => { delays.delete(id); act(...given); }, after);
      if (after <= short) delays.set(id, () => act(...given));
      return id;
    };
    window.clearTimeout = (id) => { delays.delete(id); real.clearTimeout(id); };
  }
  window.atRest = () => {
    const idle = asked === 0 && document.readyState === "complete" && document.querySelector("main")
      && !document.querySelector("[aria-busy=true]");
    if (idle && delays.size > 0) {
      for (const [id, act] of [...delays]) {
        window.clearTimeout(id);
        act();
      }
      calm = 0;
      return false;
    }
    const moving = document.getAnimations().some((a) => a.playState === "running"
      && a.effect?.getComputedTiming().iterations !== Infinity);
    calm = idle && !moving ? calm + 1 : 0;
    return calm >= 2;
  };
})(%s)"""
AT_REST = "() => window.atRest()"
"""Asked once a frame; says yes at the second in a row, so that what was just answered is on the screen."""


def watch(*, timers_run: bool) -> str:
    """A script for each page, before its own code; without timers where a test lets time pass by hand."""
    return _WATCH % ("true" if timers_run else "false")
