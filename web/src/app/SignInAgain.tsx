import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { client, setCsrfToken, SIGNED_OUT, unwrap } from "../api/client";
import { sessionQuery, type Me } from "../api/session";
import { SignInForm } from "../features/session/SignInForm";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";

/** Over the page when the session is over: signed in again, everything stands as it was. */
export default function SignInAgain({ user }: { user: Me }) {
  const queries = useQueryClient();
  const [over, setOver] = useState(false);
  const signedIn = useRef(0);
  const asking = useRef(false);
  useEffect(() => {
    // An answer to a question of before may come after one has signed in: who is it now?
    const heard = async () => {
      // Every question of the page is refused now; one answer is enough.
      if (asking.current) return;
      asking.current = true;
      const asked = performance.now();
      const session = await unwrap(client.GET("/api/v1/session")).catch(() => null);
      // One has signed in meanwhile: what was answered before says nothing.
      const old = !session || asked < signedIn.current;
      if (!old) setCsrfToken(session.csrf_token);
      if (!old && !session.user) setOver(true);
      else asking.current = false;
    };
    const listen = () => void heard();
    // It is on the page because something was refused just now.
    listen();
    window.addEventListener(SIGNED_OUT, listen);
    return () => window.removeEventListener(SIGNED_OUT, listen);
  }, []);
  return (
    <Modal open={over} onClose={() => undefined} title="Sign in again">
      <p className="mb-4">
        Your session is over. What you typed is kept; you come back to the same step.
      </p>
      <SignInForm
        as={user.username}
        onSignedIn={(session) => {
          queries.setQueryData(sessionQuery.queryKey, session);
          signedIn.current = performance.now();
          asking.current = false;
          setOver(false);
          void queries.invalidateQueries();
        }}
      />
      <Button
        look="quiet"
        className="mt-2"
        onClick={() => window.location.assign(document.baseURI)}
      >
        I am not {user.name}
      </Button>
    </Modal>
  );
}
