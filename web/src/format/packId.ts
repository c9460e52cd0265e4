const OWNED = "owned:";

/** A pack as addresses and questions to the server name it: `owned:` and its tag for one that is owned. */
export type PackId = string & { readonly packId: unique symbol };

export function ownedId(tag: string): PackId {
  return `${OWNED}${tag}` as PackId;
}

/** The tag of an owned pack; undefined for any other. */
export function ownedTag(id: string): string | undefined {
  return id.startsWith(OWNED) ? id.slice(OWNED.length) : undefined;
}

/** What an owned pack is called in words: its tag. */
export function tagOf(id: string): string {
  return ownedTag(id) ?? id;
}
