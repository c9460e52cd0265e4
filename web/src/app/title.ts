import { useEffect } from "react";

/** The tab says it too, whatever title a page gives itself meanwhile. */
export function useMarkedTitle(mark: string, on: boolean): void {
  useEffect(() => {
    if (!on) return;
    const put = () => {
      if (!document.title.includes(mark)) document.title = mark + document.title;
    };
    put();
    const watch = new MutationObserver(put);
    watch.observe(document.head, { subtree: true, childList: true, characterData: true });
    return () => {
      watch.disconnect();
      document.title = document.title.replace(mark, "");
    };
  }, [mark, on]);
}
