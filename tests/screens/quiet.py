"""When a page has come to rest: nothing is asked of the server, no short delay runs, nothing says that it is
busy."""

_WATCH = """((timersRun) => {
  const short = 1500, delays = new Set();
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
      if (after <= short) delays.add(id);
      return id;
    };
    window.clearTimeout = (id) => { delays.delete(id); real.clearTimeout(id); };
  }
  window.atRest = () => {
    const rests = asked === 0 && delays.size === 0 && document.readyState === "complete"
      && document.querySelector("main") && !document.querySelector("[aria-busy=true]");
    calm = rests ? calm + 1 : 0;
    return calm >= 4;
  };
})(%s)"""
AT_REST = "() => window.atRest()"
"""Asked once a frame; says yes at the fourth in a row, so that what was just answered is on the screen."""


def watch(*, timers_run: bool) -> str:
    """A script for each page, before its own code; without timers where a test lets time pass by hand."""
    return _WATCH % ("true" if timers_run else "false")
