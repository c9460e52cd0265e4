import { type ComponentType, lazy } from "react";

/**
 * A drawing whose code comes when it is first shown. Where it cannot be fetched, without a line or while the
 * server is gone, the screen goes on without it: what it shows is said in words beside it.
 */
export const lazyPart = <P extends object>(load: () => Promise<{ default: ComponentType<P> }>) =>
  lazy<ComponentType<P>>(() => load().catch(() => ({ default: () => null })));
