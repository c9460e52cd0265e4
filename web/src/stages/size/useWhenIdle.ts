import { useState } from "react";

/**
 * A value that follows its source only while nothing is under way: while a line is dragged, each plan is
 * waited for and the newest job is asked next, so that the server is never left with a queue of plans that
 * nobody wants any more.
 */
export function useWhenIdle<T>(source: T, busy: boolean): T {
  const [followed, setFollowed] = useState(source);
  if (!busy && followed !== source) {
    setFollowed(source);
    return source;
  }
  return followed;
}
