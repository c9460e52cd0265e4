import { type ComponentType, lazy } from "react";

/**
 * A part whose code comes when it is first shown. Where it cannot be fetched, without a line or while
 * the server is gone, the screen goes on without it.
 */
export function lazyPart<P extends object>(load: () => Promise<{ default: ComponentType<P> }>) {
  return lazy<ComponentType<P>>(() => load().catch(() => ({ default: NotFetched })));
}

function NotFetched() {
  return <p className="text-small text-ink-faint">The drawing could not be fetched.</p>;
}
