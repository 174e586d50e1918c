import type { UseQueryResult } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import type { ReactNode } from "react";
import { Unanswered } from "../api/client";

/** What was asked for, or the reason why not and what to do. Kept answers are shown though the server is away. */
export function Loading<T>({
  query,
  what,
  children,
}: {
  query: UseQueryResult<T, Error>;
  what: string;
  children: (data: T) => ReactNode;
}) {
  if (query.data !== undefined) return <>{children(query.data)}</>;
  if (!query.error) return <p className="p-4 quiet">Fetching {what} …</p>;
  const status = query.error instanceof Unanswered ? query.error.status : 0;
  return (
    <div className="panel m-4 max-w-xl p-5">
      <p>
        {status === 0 ? `No connection, and ${what} is not yet kept on this device.` : query.error.message}
      </p>
      <div className="mt-4 flex gap-3">
        {status === 401 ? (
          <Link to="/sign-in" className="btn btn-primary touch">
            Sign in
          </Link>
        ) : (
          <button type="button" className="btn btn-primary touch" onClick={() => query.refetch()}>
            Try again
          </button>
        )}
        <Link to="/" className="btn touch">
          Day sheet
        </Link>
      </div>
    </div>
  );
}
