import { Link } from "react-router";

export function NotFound() {
  return (
    <main className="p-10">
      <h1 className="text-lg font-semibold">There is no such page</h1>
      <p className="mt-2">
        <Link to="/" className="text-plum underline">
          Go to the start page
        </Link>
      </p>
    </main>
  );
}
