let name = "";

/** Whose hands are at this device: drafts and waiting entries are theirs alone. */
export const person = () => name;
export const asPerson = (username: string) => {
  if (name !== username) localStorage.setItem(SOMEONE, "here");
  name = username;
};

/** Looked at by public/first.js when the page is loaded the next time: is it worth asking? */
const SOMEONE = "someone";
export const noPerson = () => localStorage.removeItem(SOMEONE);
