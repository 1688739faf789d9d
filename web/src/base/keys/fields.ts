/** The fields that letters go into, as a selector: keys that mean something elsewhere are theirs. */
export const fields = "textarea, select, input:not([type=radio], [type=checkbox], [type=range])";
