import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Problem } from "../api/client";
import { sessionQuery } from "../api/session";
import { Button } from "./Button";
import { Field } from "./Field";
import { canPasskeys, provenByPasskey } from "./passkey";

type Props = {
  label?: string;
  value: string;
  problem: Problem | null;
  autoFocus?: boolean;
  onChange: (said: string) => void;
  /** sends what a passkey has proven at once */
  onProven: (proof: string) => void;
};

/** Under what is signed: the password; a PIN where one is good here; or a passkey. */
export function ProofField({
  label = "Your password",
  value,
  problem,
  autoFocus,
  onChange,
  onProven,
}: Props) {
  const { data } = useQuery(sessionQuery);
  const [failed, setFailed] = useState(false);
  const me = data?.user;
  const pin = me?.pin ?? false;
  return (
    <div className="grid gap-2">
      <Field
        label={pin ? label.replace("password", "PIN or password") : label}
        type="password"
        autoFocus={autoFocus}
        autoComplete="current-password"
        value={value}
        problem={problem}
        onChange={(e) => onChange(e.target.value)}
      />
      {me?.passkey && data?.passkeys && canPasskeys() && (
        <Button
          onClick={() => {
            setFailed(false);
            provenByPasskey().then(onProven, () => setFailed(true));
          }}
        >
          By my passkey instead
        </Button>
      )}
      {failed && (
        <p role="alert" className="text-[14px] text-outside">
          No passkey was given. Try again, or type your password.
        </p>
      )}
    </div>
  );
}
