import { dismiss, useNotice } from "@/app/notices";

/**
 * The message at the foot of the page. The region is always there, so that readers hear what comes into it.
 */
export function Notices() {
  const notice = useNotice();
  return (
    <div
      role="status"
      aria-label="Messages"
      className="no-print pointer-events-none fixed inset-x-0 bottom-4 z-[60] flex justify-center px-4"
    >
      {notice && (
        <div
          key={notice.id}
          className="pointer-events-auto flex max-w-xl items-baseline gap-4 bg-ink px-4 py-2.5 text-plain
            text-ground forced-colors:border-2 forced-colors:bg-ground forced-colors:text-ink"
        >
          <span>
            {notice.wrong && <span className="font-bold">Not done: </span>}
            {notice.words}
          </span>
          {notice.act && (
            <button
              type="button"
              className="whitespace-nowrap font-bold underline underline-offset-4"
              onClick={() => {
                dismiss();
                notice.act?.run();
              }}
            >
              {notice.act.name}
            </button>
          )}
          <button type="button" className="opacity-80 hover:opacity-100" onClick={dismiss}>
            Close
          </button>
        </div>
      )}
    </div>
  );
}
