let name = "";

/** Whose hands are at this device: drafts and waiting entries are theirs alone. */
export const person = () => name;
export const asPerson = (username: string) => {
  name = username;
};
