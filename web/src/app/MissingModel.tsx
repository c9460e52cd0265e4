import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { ApiProblem } from "@/api/problem";
import { modelsQuery } from "@/app/queries";
import type { STAGES } from "@/app/stages";

type Props = { error: Error; to: (typeof STAGES)[number]["to"]; onRetry: () => void };

/** A model that is not there, with those that are; or one that could not be fetched. */
export default function MissingModel({ error, to, onRetry }: Props) {
  const { data: models = [] } = useQuery(modelsQuery);
  const unknown = error instanceof ApiProblem && error.status === 404;
  return (
    <main className="mx-auto w-full max-w-lg flex-1 px-6 py-16">
      <h1 className="text-title font-semibold">
        {unknown ? "There is no such model." : "The model could not be fetched."}
      </h1>
      <p className="mt-2 text-ink-soft">
        {!unknown ? error.message : models.length > 0 ? "Choose one of yours:" : "You have none yet."}
      </p>
      {unknown ? (
        <ul className="mt-3 space-y-1">
          {models.map((m) => (
            <li key={m.slug}>
              <Link to={to} params={{ model: m.slug }} className="action">
                {m.name}
              </Link>
            </li>
          ))}
          <li className="pt-3">
            <Link to="/new" className="primary inline-block">
              {models.length > 0 ? "Add a model" : "Begin with my model"}
            </Link>
          </li>
        </ul>
      ) : (
        <button type="button" className="control mt-4" onClick={onRetry}>
          Try again
        </button>
      )}
    </main>
  );
}
