import { ApiError, type Problem } from "../api/client";

/** What a server's refusal says of one field; none for another field or another error. */
export function wrongAt(error: Error | null, field: string): Problem | null {
  return error instanceof ApiError && error.problem.field === field ? error.problem : null;
}

/** What is wrong that belongs to none of the fields shown. */
export function WrongElsewhere({ error, fields }: { error: Error | null; fields: string[] }) {
  if (!error) return null;
  if (error instanceof ApiError && fields.includes(error.problem.field)) return null;
  const said =
    error instanceof ApiError
      ? `${error.problem.message} ${error.problem.remedy}`
      : "The server does not answer. What you typed is kept here.";
  return (
    <p role="alert" className="text-[15px] text-outside">
      {said}
    </p>
  );
}
