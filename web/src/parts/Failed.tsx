type Props = { error: Error; onRetry: () => void; className?: string };

/** What could not be fetched, and one more try. */
export function Failed({ error, onRetry, className = "mt-6" }: Props) {
  return (
    <p className={className}>
      {error.message}{" "}
      <button type="button" className="action" onClick={onRetry}>
        Try again
      </button>
    </p>
  );
}
