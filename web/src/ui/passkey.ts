import { client, unwrap } from "../api/client";

/** Whether this browser can make and use passkeys as JSON. */
export const canPasskeys = () =>
  typeof PublicKeyCredential !== "undefined" &&
  "parseRequestOptionsFromJSON" in PublicKeyCredential;

const asJson = (made: Credential | null) => {
  if (!(made instanceof PublicKeyCredential)) throw new Error("no passkey was given");
  return made.toJSON() as unknown as Record<string, never>;
};

/** Let the device make a passkey by what the server asked. */
export async function makePasskey(options: string) {
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(
    JSON.parse(options) as PublicKeyCredentialCreationOptionsJSON,
  );
  return asJson(await navigator.credentials.create({ publicKey }));
}

/** Let the device use a passkey: of who is signed in, or any that it has for this site. */
export async function withPasskey() {
  const { options } = await unwrap(client.POST("/api/v1/ways-in/passkey/options"));
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(
    JSON.parse(options) as PublicKeyCredentialRequestOptionsJSON,
  );
  return asJson(await navigator.credentials.get({ publicKey }));
}

/** What stands for the password of who is signed in, once, within a minute. */
export async function provenByPasskey() {
  const credential = await withPasskey();
  return (await unwrap(client.POST("/api/v1/ways-in/passkey/prove", { body: { credential } })))
    .proof;
}
