import { Link } from "@tanstack/react-router";

export function NotFound() {
  return (
    <main className="mx-auto max-w-xl p-8">
      <h1 className="text-2xl font-semibold">There is no such page</h1>
      <p className="mt-2 quiet">The address may be mistyped, or belong to another company.</p>
      <Link to="/" className="btn btn-primary touch mt-6">
        To the day sheet
      </Link>
    </main>
  );
}
