import { createContext, type ReactNode, useContext, useEffect, useId, useMemo, useState } from "react";

type Marks = { mark: (id: string, label: string | undefined) => void };
const Reds = createContext<Marks | undefined>(undefined);

/** A field of the form around it holds what is not understood. */
export function useRed(label: string, red: boolean): void {
  const form = useContext(Reds);
  const id = useId();
  useEffect(() => {
    if (!red || !form) return;
    form.mark(id, label);
    return () => form.mark(id, undefined);
  }, [form, id, label, red]);
}

/** The fields of a form that are red now, by their labels: nothing is saved while there are any. */
export function useReds(): [readonly string[], (form: ReactNode) => ReactNode] {
  const [red, setRed] = useState<readonly (readonly [string, string])[]>([]);
  const marks = useMemo<Marks>(
    () => ({
      mark: (id, label) =>
        setRed((old) => {
          const rest = old.filter(([one]) => one !== id);
          return label === undefined ? rest : [...rest, [id, label]];
        }),
    }),
    [],
  );
  const labels = useMemo(() => red.map(([, label]) => label), [red]);
  return [labels, (form) => <Reds.Provider value={marks}>{form}</Reds.Provider>];
}

type SaveProps = { reds: readonly string[]; look?: string; busy?: boolean; children: ReactNode };

/** What saves a form: while fields of it are red it says which, and does nothing. */
export function SaveButton({ reds, look = "primary", busy = false, children }: SaveProps) {
  return (
    <button type="submit" className={look} disabled={busy || reds.length > 0}>
      {reds.length > 0 ? `Mend first: ${reds.join(", ")}` : children}
    </button>
  );
}
