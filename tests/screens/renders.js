// Counts what React renders, by the hook that it offers to developer tools: components that ran, components
// that are new, and the commits with how many ran in each. Put into a page before its scripts.
(() => {
  const RAN = 1;
  const COMPONENTS = new Set([0, 1, 11, 14, 15]);
  window.renders = { ran: 0, made: 0, commits: [] };
  const made = (fiber) => {
    if (COMPONENTS.has(fiber.tag)) window.renders.made += 1;
    for (let x = fiber.child; x; x = x.sibling) made(x);
  };
  const changed = (now) => {
    if (COMPONENTS.has(now.tag) && now.flags & RAN) window.renders.ran += 1;
    if (now.child === now.alternate.child) return;
    for (let x = now.child; x; x = x.sibling) x.alternate ? changed(x) : made(x);
  };
  const none = () => {};
  window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = {
    supportsFiber: true,
    renderers: new Map(),
    inject: () => 1,
    checkDCE: none,
    onCommitFiberUnmount: none,
    onPostCommitFiberRoot: none,
    onCommitFiberRoot(_, { current }) {
      const before = window.renders.ran + window.renders.made;
      current.alternate ? changed(current) : made(current);
      window.renders.commits.push(window.renders.ran + window.renders.made - before);
    },
  };
})();
