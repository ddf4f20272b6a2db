import { Link } from "react-router";

/** An address that leads nowhere. */
export default function NothingHere() {
  return (
    <main className="p-8">
      <h1 className="text-2xl font-semibold">There is no page at this address</h1>
      <p className="mt-2">
        Go to{" "}
        <Link className="underline" to="/">
          today
        </Link>
        , or find an{" "}
        <Link className="underline" to="/instruments">
          instrument
        </Link>
        .
      </p>
    </main>
  );
}
