/** The event by which the list of keys is asked for. */
export const wanted = "raconte-keys";

/** Shows which keys mean what on this page. */
export const showKeys = () => dispatchEvent(new Event(wanted));
