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

/** What a button that saves says while fields are red. */
export function mendFirst(reds: readonly string[]): string {
  return `Mend first: ${reds.join(", ")}`;
}
