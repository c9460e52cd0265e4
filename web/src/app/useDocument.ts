import { useEffect, useSyncExternalStore } from "react";
import type { DocumentStore, Kept } from "@/app/documentStore";

/** A document as it stands here; it hears what the server was read to have, and is kept when one leaves. */
export function useDocument<T>(document: DocumentStore<T>, { value, version }: Kept<T>): T {
  useEffect(() => document.seen({ value, version }), [document, value, version]);
  useEffect(() => () => void document.flush(), [document]);
  return useSyncExternalStore(document.listen, () => document.value);
}
