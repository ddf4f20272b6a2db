import { Field } from "../../ui/Field";
import { wrongAt } from "../../ui/wrong";

export const NO_PROOF = { own: "", second: "", second_password: "" };
export const PROOF = ["own", "second", "second_password"];

type Props = {
  proof: typeof NO_PROOF;
  two: boolean;
  error: Error | null;
  onChange: (proof: typeof NO_PROOF) => void;
};

/** Who makes a link: one's own password, and a second person where the site asks for two. */
export function ProofFields({ proof, two, error, onChange }: Props) {
  return (
    <>
      <Field
        label="Your own password"
        type="password"
        autoComplete="current-password"
        value={proof.own}
        problem={wrongAt(error, "own")}
        onChange={(e) => onChange({ ...proof, own: e.target.value })}
      />
      {two && (
        <>
          <Field
            label="Second person: name to sign in with"
            value={proof.second}
            problem={wrongAt(error, "second")}
            onChange={(e) => onChange({ ...proof, second: e.target.value })}
          />
          <Field
            label="Second person: password"
            type="password"
            value={proof.second_password}
            problem={wrongAt(error, "second_password")}
            onChange={(e) => onChange({ ...proof, second_password: e.target.value })}
          />
        </>
      )}
    </>
  );
}
