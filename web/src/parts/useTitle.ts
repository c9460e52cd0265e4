import { useEffect } from "react";

/** The tab says what one looks at, the most particular first: "Ptarmigan · Size · Cold Stack". */
export function useTitle(...words: (string | undefined)[]): void {
  const title = [...words.filter(Boolean), "Cold Stack"].join(" · ");
  useEffect(() => {
    document.title = title;
  }, [title]);
}
