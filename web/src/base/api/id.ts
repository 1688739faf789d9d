/** Ids are chosen here, so that what is made can be shown and kept before the server knows of it. */
export const newID = () => crypto.randomUUID();
