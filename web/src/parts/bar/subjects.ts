import { type Account, mayAdminister } from "../../base/api/client";

/** What is set up, in which place; words by which people look for it stand beside its name. */
export interface Subject {
  to: string;
  name: string;
  words: string;
  /** Everybody sets up what is theirs; of the house, some is for administrators. */
  whose: "yours" | "the house’s";
  administers?: boolean;
}

const subjects: Subject[] = [
  { to: "/setup/mine", name: "Keys", words: "one letter shortcuts dictate pad", whose: "yours" },
  {
    to: "/setup/recorders",
    name: "Recorders",
    words: "browser extension token feed connect device policy revoke",
    whose: "yours",
  },
  {
    to: "/setup/styles",
    name: "Styles and templates",
    words: "house look paper faces colours layout web page word processor presentation docx pptx html usual",
    whose: "the house’s",
  },
  {
    to: "/setup/words",
    name: "Words",
    words: "conceal secrets customers names said voice pronounce film acronyms",
    whose: "the house’s",
  },
  {
    to: "/setup/doors",
    name: "Doors",
    words: "ask for help without an account address inbox",
    whose: "the house’s",
  },
  {
    to: "/setup/folders",
    name: "Folders and numbers",
    words: "groups closed members access pattern count document numbering",
    whose: "the house’s",
    administers: true,
  },
  {
    to: "/setup/approval",
    name: "Approval",
    words: "rule release sign signature before how many order",
    whose: "the house’s",
    administers: true,
  },
  {
    to: "/setup/people",
    name: "People",
    words: "accounts invite role disable password confirmations read",
    whose: "the house’s",
    administers: true,
  },
  {
    to: "/setup/receivers",
    name: "Receivers",
    words: "tracker chat mailbox folder send reports webhook",
    whose: "the house’s",
    administers: true,
  },
  {
    to: "/setup/links",
    name: "Links",
    words: "share guests address sites frames embed",
    whose: "the house’s",
    administers: true,
  },
  {
    to: "/setup/trail",
    name: "What was done",
    words: "audit log history acts who when",
    whose: "the house’s",
    administers: true,
  },
];

/** The places of setting up in which all words of a text begin something; all where it is empty. */
export function findSubjects(account: Account, text: string): Subject[] {
  const asked = parts(text);
  return subjects.filter((s) => {
    if (s.administers && !mayAdminister(account)) return false;
    const known = parts(`${s.name} ${s.words}`);
    return asked.every((a) => known.some((k) => k.startsWith(a)));
  });
}

const parts = (text: string) =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((w) => w !== "");
