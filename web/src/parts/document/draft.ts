import { Store } from "../../base/store";
import {
  api,
  type Block,
  type Change,
  type Changes,
  type Content,
  type Facts,
  type Shot,
  type WholeDocument,
  problemOf,
  conflictOf,
} from "../../base/api/client";
import { newID } from "../../base/api/id";
import { core } from "../../base/core/core";
import { same, tidy } from "../../base/api/content";
import type { Edit, BlockState } from "../../base/storage/storage";
import type { Known, Row, Status } from "./model";
import type { DraftRecord, Pending } from "../../base/storage/storage";
import { Keeping } from "./keeping";
import { Past } from "./past";
import { sure } from "../../base/typed";

const saveAfter = 400; // milliseconds of quiet before saving
const tellAfter = 120; // milliseconds until what stands beside the words follows the letters typed

/**
 * Draft is a document while it is edited: what is on the page, what the server has, and the history.
 * Typing changes the page at once; saving follows by itself. Where someone else changed the same block, both
 * are kept until a person chooses.
 */
export class Draft extends Store {
  readonly shots = new Map<string, Shot>();
  readonly conflicts = new Map<string, Known>();
  factsConflict?: Facts;
  status: Status = { kind: "saved" };
  /** Tells which shots are still on their way: blocks that show them are saved once they have arrived. */
  awaiting: (shot: string) => boolean = () => false;

  private known = new Map<string, Known>();
  private local = new Map<string, BlockState>();
  private beside = new Map<string, Pending>(); // what stands against this page's words from another of this person's
  private past = new Past<Edit>();
  private seq: number;
  private knownFacts: { facts: Facts; version: number };
  private rows: Row[] | undefined;
  private telling: ReturnType<typeof setTimeout> | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private keepTimer: ReturnType<typeof setTimeout> | undefined;
  private saving: string | undefined;
  private unanswered: Change | undefined;
  private newest = 0; // the highest state of the document that was heard of
  private wait = 1000;
  private closed = false;
  facts: Facts;
  state: "draft" | "ready" | "retired";
  readonly kind: string;
  revision: number;

  private constructor(
    readonly id: string,
    private readonly keeping: Keeping,
    whole: WholeDocument,
  ) {
    super();
    this.seq = whole.seq;
    this.facts = tidy(whole.facts);
    this.state = whole.summary.state;
    this.kind = whole.summary.kind;
    this.revision = whole.summary.revision;
    this.knownFacts = { facts: this.facts, version: whole.factsVersion };
    whole.shots.forEach((s) => this.shots.set(s.id, s));
    for (const s of [...whole.blocks, ...(whole.removed ?? [])]) {
      this.known.set(s.id, knownOf(s));
      this.local.set(s.id, strip(knownOf(s)));
    }
  }

  /** Opens a document with what this browser still keeps of it. */
  static async open(account: string, whole: WholeDocument): Promise<Draft> {
    const { keeping, left } = await Keeping.begin(account, whole.summary.id);
    const draft = new Draft(whole.summary.id, keeping, whole);
    draft.past = new Past(left.edits, left.position);
    for (const record of left.records) draft.goOn(record);
    draft.schedule(0);
    return draft;
  }

  /** Takes up what a page that has ended had not saved; the newest comes first. */
  private goOn({ pending, facts, sent }: Omit<DraftRecord, "position">) {
    for (const p of pending) {
      const known = this.known.get(p.id);
      const mine = this.local.get(p.id);
      if (known && same(strip(known), p.state)) continue;
      if (mine && !same(mine, known && strip(known)) && !same(mine, p.state)) {
        // Two pages of one person wrote it: neither is lost.
        this.conflicts.set(p.id, { ...p.state, version: known?.version ?? 0, by: "Another tab of yours" });
        this.beside.set(p.id, p);
        continue;
      }
      this.local.set(p.id, p.state);
      const ours = known && sent?.some((s) => s.id === p.id && same(s.state, strip(known)));
      if (known && known.version !== p.base && !ours) this.conflicts.set(p.id, known);
    }
    if (facts && !same(facts.facts, this.facts)) {
      if (!same(this.facts, this.knownFacts.facts)) {
        this.factsConflict = tidy(facts.facts); // two pages of one person changed them
        return;
      }
      if (facts.base !== this.knownFacts.version) this.factsConflict = this.facts;
      this.facts = tidy(facts.facts);
    }
  }

  /** Whether this browser keeps what the server does not have. */
  get kept() {
    return this.keeping.works;
  }

  /** Whether the server knows a number: it is the document's for good then. */
  get knownNumber() {
    return Boolean(this.knownFacts.facts.number);
  }

  get title() {
    return this.facts.title;
  }

  private changed() {
    this.outdated();
    clearTimeout(this.telling);
    this.telling = undefined;
    this.tell();
  }

  /** What was read before is so no more: whoever looks from now on sees what is. */
  private outdated() {
    this.outdate();
    this.rows = undefined;
  }

  /** The blocks on the page, in order. */
  blocks(): Row[] {
    if (!this.rows) {
      const before = this.lastRows;
      this.rows = [...this.local]
        .filter(([, s]) => !s.removed)
        .sort(([a, s], [b, t]) => (s.order === t.order ? (a < b ? -1 : 1) : s.order < t.order ? -1 : 1))
        .map(([id, s]) => {
          const old = before.get(id);
          return old && old.content === s.content && old.order === s.order ? old : { id, ...s };
        });
      this.lastRows = new Map(this.rows.map((r) => [r.id, r]));
    }
    return this.rows;
  }
  private lastRows = new Map<string, Row>();

  /**
   * Changes blocks as they are now, in one edit: what change makes of one takes its place, and undefined takes it away.
   * So what was read before, or awaited, never writes over what was typed since.
   */
  patch(label: string, ids: readonly string[], change: (row: Row) => Content | undefined, joins = false) {
    const rows = this.blocks().filter((r) => ids.includes(r.id));
    this.edit(
      label,
      rows.map((r) => {
        const content = change(r);
        return { id: r.id, after: { order: r.order, removed: !content, content: content ?? r.content } };
      }),
      joins,
    );
  }

  /** patch for every block of the page. */
  patchAll(label: string, change: (row: Row) => Content) {
    this.patch(label, [...this.local.keys()], change);
  }

  private edit(label: string, changes: { id: string; after: BlockState }[], joins = false, shown = false) {
    const blocks = changes.map(({ id, after }) => ({
      id,
      before: this.local.get(id) ?? tidy({ ...after, removed: true }),
      after: tidy(after),
    }));
    if (blocks.every((s) => same(s.before, s.after))) return;
    const alike = (last: Edit) =>
      same(
        last.blocks.map((s) => s.id),
        blocks.map((s) => s.id),
      );
    const at = Date.now();
    this.record({ label, blocks, at }, (last) =>
      joins && alike(last)
        ? { ...last, at, blocks: last.blocks.map((s, i) => ({ ...s, after: blocks[i]?.after ?? s.after })) }
        : undefined,
    );
    blocks.forEach((s) => this.local.set(s.id, s.after));
    this.afterChange(joins, shown);
  }

  rename(title: string) {
    if (title !== this.facts.title) this.setFacts("Change the title", { title });
  }

  /** Changes some of the facts; those that are undefined go. */
  setFacts(label: string, part: Partial<Facts>, joins = false) {
    this.putFacts(label, { ...this.facts, ...part }, joins);
  }

  private putFacts(label: string, facts: Facts, joins = false) {
    const after = tidy(facts);
    const at = Date.now();
    this.record({ label, blocks: [], facts: { before: this.facts, after }, at }, (last) =>
      joins && last.facts && last.label === label
        ? { ...last, at, facts: { before: last.facts.before, after } }
        : undefined,
    );
    this.facts = after;
    this.afterChange(joins);
  }

  private record(edit: Edit, join?: (last: Edit) => Edit | undefined) {
    const now = this.past.add(edit, join);
    void this.keeping.saveEdit(this.past.position - 1, now);
  }

  /** Typing is kept in the browser a moment later; everything else at once. */
  private afterChange(typing = false, shown = false) {
    // What was said is of what was there before: this is neither on the server nor in the browser yet.
    if (this.status.kind === "saved" || this.status.kind === "kept") this.status = { kind: "saving" };
    if (shown) {
      this.outdated();
      this.telling ??= setTimeout(() => this.changed(), tellAfter);
    } else this.changed();
    clearTimeout(this.keepTimer);
    if (typing) this.keepTimer = setTimeout(() => void this.keep(), 100);
    else void this.keep();
    this.schedule(saveAfter);
  }

  /** Keeps in the browser what the server does not have. */
  async keep() {
    clearTimeout(this.keepTimer);
    const record: DraftRecord = {
      position: this.past.position,
      pending: this.dirty().map((id) => ({
        id,
        base: this.known.get(id)?.version ?? 0,
        state: sure(this.local.get(id)),
      })),
    };
    // What another page of this person had written, until they have chosen.
    for (const [id, { base, state }] of this.beside)
      if (this.conflicts.has(id)) record.pending.push({ id, base, state });
    if (!same(this.facts, this.knownFacts.facts)) record.facts = { base: this.knownFacts.version, facts: this.facts };
    if (this.unanswered) record.sent = this.unanswered.blocks.map((b) => ({ id: b.id, state: strip(b) }));
    const before = this.kept;
    await this.keeping.save(record);
    if (this.kept !== before) this.changed();
  }

  private dirty(): string[] {
    const out: string[] = [];
    for (const [id, s] of this.local) {
      const known = this.known.get(id);
      if (known ? !same(s, strip(known)) : !s.removed) out.push(id);
    }
    return out;
  }

  canUndo = () => this.past.undoes;
  canRedo = () => this.past.redoes;

  /** Undoes the last edit; what it says if someone else has changed the same since, else "". */
  undo(): string {
    return this.travel(this.past.back(), "after", "before");
  }
  redo(): string {
    return this.travel(this.past.on(), "before", "after");
  }

  private travel(edit: Edit | undefined, from: "before" | "after", to: "before" | "after"): string {
    if (!edit) return "";
    const stale = edit.blocks.some((s) => {
      const here = this.local.get(s.id);
      return here && !same(here, s[from]) && !(here.removed && s[from].removed);
    });
    if (stale || (edit.facts && !same(edit.facts[from], this.facts))) {
      this.afterChange();
      return `Someone else has changed this since, so “${edit.label}” was left as it is.`;
    }
    // Histories from before states were tidied hold some that would never be the same as what the server has.
    edit.blocks.forEach((s) => this.local.set(s.id, tidy(s[to])));
    if (edit.facts) this.facts = edit.facts[to];
    this.afterChange();
    return "";
  }

  schedule(after: number) {
    if (this.closed) return;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.save(), after);
  }

  private async save() {
    if (this.saving || this.closed) return;
    const dirty = this.dirty();
    const open = dirty.filter((id) => !this.conflicts.has(id) && !this.isRefused(id) && !this.waitsFor(id));
    const ready = open.slice(0, this.atOnce);
    // While what the server does not take is looked for, the facts go by themselves, last.
    const stated = this.factsOpen() && !this.isRefused("") && (this.atOnce === Infinity || ready.length === 0);
    if (ready.length === 0 && !stated && !this.unanswered) {
      this.atOnce = Infinity;
      if (this.conflicts.size > 0 || this.factsConflict !== undefined) this.setStatus({ kind: "conflict" });
      else if (this.refusals().length > 0) this.setStatus({ kind: "refused" });
      else if (dirty.length > 0) this.setStatus({ kind: "kept", why: "A picture is not in yet" });
      else if (this.status.kind !== "saved") this.setStatus({ kind: "saved", at: new Date() });
      await this.keep();
      return;
    }
    // A change that got no answer may have been applied: it is sent again as it was, and the server knows it by its id.
    const body: Change = this.unanswered ?? {
      id: newID(),
      blocks: ready.map((id) => ({
        id,
        base: this.known.get(id)?.version ?? 0,
        ...sure(this.local.get(id)),
      })),
      ...(stated && { facts: { base: this.knownFacts.version, facts: this.facts } }),
    };
    this.unanswered = body;
    this.saving = body.id;
    this.setStatus({ kind: "saving" });
    void this.keep(); // what is sent is known for this person's own, also to a page that comes after this one
    try {
      const answer = await api.POST("/api/documents/{document}/changes", {
        params: { path: { document: this.id } },
        body,
      });
      const { data, error, response } = answer;
      const clash = conflictOf<Changes>(answer);
      this.wait = 1000;
      if (response.status < 500) this.unanswered = undefined; // a server that broke down may have applied it before
      if (clash) this.clash(clash);
      else if (data) this.saved(data, body);
      else this.refuse(response, problemOf(response, error, "").message, body);
    } catch {
      this.setStatus({ kind: "kept", why: "Raconte can't be reached" });
      this.schedule(this.wait);
      this.wait = Math.min(this.wait * 2, 15000);
    } finally {
      this.saving = undefined;
      this.changed();
      await this.keep();
      if (this.behind) void this.catchUp();
    }
  }

  private saved(answer: Changes, { blocks, facts }: Change) {
    const now = new Map(answer.blocks.map((s) => [s.id, knownOf(s)]));
    for (const sent of blocks) {
      const theirs = now.get(sent.id);
      // Whoever changed it since did so knowing what was sent.
      this.known.set(sent.id, { ...tidy(strip(sent)), version: sent.base + 1 });
      if (theirs) this.theirs(sent.id, theirs);
    }
    const stated = facts !== undefined;
    answer.shots.forEach((s) => this.shots.set(s.id, s)); // an undo may have brought back one that this page did not know
    if (stated) {
      this.knownFacts = { facts: tidy(facts.facts), version: facts.base + 1 };
      if (answer.factsVersion !== this.knownFacts.version) this.theirFacts(answer);
      else this.knownFacts.facts = tidy(answer.facts); // the server gives what is its own to say
    }
    this.state = answer.state;
    if (answer.seq === this.seq + 1) this.seq = answer.seq;
    if (Math.max(answer.seq, this.newest) > this.seq) this.behind = true;
    // Only what is left decides whether all is saved: the next round says it.
    this.setStatus(this.dirty().length === 0 ? { kind: "saved", at: new Date() } : { kind: "saving" });
    this.schedule(0);
  }

  private clash(answer: Changes) {
    for (const s of answer.blocks) this.theirs(s.id, knownOf(s));
    if (answer.factsVersion !== this.knownFacts.version) this.theirFacts(answer);
    if (this.newest > this.seq) this.behind = true;
    this.schedule(0);
  }

  /**
   * What is refused for now is sent again, when the server says. Of what it will never take, the part that it does not
   * take is looked for by halves, and set aside until it is written anew; all else is saved.
   */
  private refuse({ status, headers }: Response, message: string, { blocks, facts }: Change) {
    const why = message.replace(/\.$/, "") || "Raconte refused the change";
    const later = status >= 500 || status === 429 || status === 408 || status === 401;
    const parts = blocks.length + (facts ? 1 : 0);
    if (later || status === 403 || status === 404) {
      const words: Record<number, string> = { 401: "You are signed out. Sign in again in another tab" };
      this.setStatus({
        kind: "kept",
        why: words[status] ?? (status >= 500 ? "The server has a problem and is asked again" : why),
      });
      const seconds = Number(headers?.get("Retry-After"));
      if (later) this.schedule(seconds > 0 ? Math.min(seconds, 600) * 1000 : 5000);
      return;
    }
    if (parts > 1) this.atOnce = Math.max(1, Math.ceil(blocks.length / 2));
    else if (facts) this.refusedParts.set("", { why, of: facts.facts });
    else for (const sent of blocks) this.refusedParts.set(sent.id, { why, of: tidy(strip(sent)) });
    this.schedule(0);
  }

  private atOnce = Infinity; // blocks of one change
  private refusedParts = new Map<string, { why: string; of: unknown }>(); // by block; "" is the facts

  private isRefused = (id: string) =>
    same(this.refusedParts.get(id)?.of, id === "" ? this.facts : this.local.get(id)) && this.refusedParts.has(id);

  /** What the server does not take as it is now, by block, and why; "" is the facts. */
  refusals = (): { id: string; why: string }[] =>
    [...this.refusedParts].flatMap(([id, { why }]) => (this.isRefused(id) ? [{ id, why }] : []));

  /** Sends again what was refused. */
  tryAgain() {
    this.refusedParts.clear();
    this.schedule(0);
  }

  private theirFacts(answer: Changes) {
    const sent = this.unanswered?.facts;
    if (sent && answer.factsVersion > sent.base + 1) {
      this.behind = true;
      return;
    }
    const mine = !same(this.facts, this.knownFacts.facts);
    const facts = tidy(answer.facts);
    this.knownFacts = { facts, version: answer.factsVersion };
    if (mine && !same(this.facts, facts)) this.factsConflict = facts;
    else this.facts = facts;
  }

  /** Whether the facts are to be saved. */
  private factsOpen = () => !same(this.facts, this.knownFacts.facts) && this.factsConflict === undefined;

  /** Takes in what the server has of a block: at once where nothing is lost, else as a conflict. */
  private theirs(id: string, theirs: Known) {
    const known = this.known.get(id);
    if (known && known.version >= theirs.version) return;
    const sent = this.unanswered?.blocks.find((b) => b.id === id);
    if (sent && theirs.version > sent.base + 1) {
      this.behind = true; // it may have been made of what was sent and not answered: the answer tells
      return;
    }
    if (sent && same(tidy(strip(sent)), strip(theirs))) {
      this.known.set(id, theirs); // it is what was sent
      return;
    }
    const mine = this.local.get(id);
    const untouched = known ? same(mine, strip(known)) : !mine || mine.removed;
    this.known.set(id, theirs);
    if (untouched || same(mine, strip(theirs))) {
      this.local.set(id, strip(theirs));
      this.conflicts.delete(id);
    } else {
      this.conflicts.set(id, theirs);
    }
  }

  /** Settles a conflict. Taking theirs is an edit, so that undo brings mine back. */
  settle(id: string, choice: "mine" | "theirs") {
    const theirs = this.conflicts.get(id);
    this.conflicts.delete(id);
    if (theirs && choice === "theirs") this.edit("Take the other version", [{ id, after: strip(theirs) }]);
    this.afterChange();
  }

  settleFacts(choice: "mine" | "theirs") {
    const theirs = this.factsConflict;
    this.factsConflict = undefined;
    if (choice === "theirs" && theirs !== undefined) this.putFacts("Take the other version", theirs);
    this.afterChange();
  }

  /** Someone changed the document. */
  async heard(event: { seq: number }) {
    this.newest = Math.max(this.newest, event.seq);
    if (event.seq > this.seq || event.seq === 0) await this.catchUp();
  }

  private behind = false; // something happened that is to be asked for

  /** Asks for what others have done. */
  async catchUp() {
    this.behind = true;
    if (this.saving) return; // first the answer, then this
    this.behind = false;
    try {
      const { data } = await api.GET("/api/documents/{document}/changes", {
        params: { path: { document: this.id }, query: { since: this.seq } },
      });
      if (!data) return;
      data.shots.forEach((s) => this.shots.set(s.id, s));
      data.blocks.forEach((s) => this.theirs(s.id, knownOf(s)));
      if (data.factsVersion !== this.knownFacts.version) this.theirFacts(data);
      if (!this.behind) this.seq = Math.max(this.seq, data.seq);
      this.state = data.state;
      this.revision = data.revision;
      if (this.conflicts.size > 0) this.setStatus({ kind: "conflict" });
      this.changed();
    } catch {
      // The stream of events opens again when the network is back, and then this is asked anew.
    }
  }

  shotArrived(shot: Shot) {
    this.shots.set(shot.id, shot);
    this.schedule(50); // whoever shows it hears of the arrival from the outbox
  }

  markedReady(revision: number) {
    this.state = "ready";
    this.revision = revision;
    this.changed();
  }

  private setStatus(status: Status) {
    this.status = status;
    this.changed();
  }

  /** The state of the document that this page has seen. */
  get seen() {
    return this.seq;
  }

  /**
   * Fulfilled when all is saved that can be: a picture that is still on its way is waited for, a person's choice is
   * not.
   */
  settled(): Promise<void> {
    return new Promise((resolve) => {
      const look = () => {
        const open = this.dirty().filter((id) => !this.conflicts.has(id));
        const kept = this.status.kind === "kept" && !this.unanswered && !open.some((id) => this.waitsFor(id));
        const refused = kept || this.status.kind === "refused";
        const stated = this.factsOpen();
        if (!this.closed && !refused && (open.length > 0 || stated || this.saving)) return;
        stop();
        resolve();
      };
      const stop = this.subscribe(look);
      this.schedule(0);
      look();
    });
  }

  private waitsFor = (id: string) => this.local.get(id)?.content.figures.some((f) => this.awaiting(f.shot)) ?? false;

  close() {
    void this.keep();
    if (this.timer) void this.save();
    this.closed = true;
    clearTimeout(this.timer);
    this.keeping.end();
  }

  // Edits that need places. The core chooses the keys.

  /** New blocks before the one now at a position. */
  insert(label: string, at: number, contents: BlockState["content"][]): string[] {
    const rows = this.blocks();
    const place = core.arrange(
      rows.map((r) => r.order),
      at,
      contents.length,
    );
    const ids = contents.map(newID);
    const changes = contents.map((content, i) => ({
      id: sure(ids[i]),
      after: { order: sure(place.keys[i]), removed: false, content },
    }));
    this.edit(label, [...changes, ...anew(rows, place.anew)]);
    return ids;
  }

  /** Puts contents in the place of a block's: the first is the block's own, the others come below it. */
  replace(label: string, at: number, [own, ...more]: BlockState["content"][]): string[] {
    const rows = this.blocks();
    const row = rows[at];
    if (!row || !own) return [];
    const place = core.arrange(
      rows.map((r) => r.order),
      at + 1,
      more.length,
    );
    const ids = more.map(newID);
    // Where there was no room the block's own key is among the new ones.
    const keys = anew(rows, place.anew);
    const order = place.anew?.[at] ?? row.order;
    this.edit(label, [
      { id: row.id, after: { order, removed: false, content: own } },
      ...more.map((content, i) => ({
        id: sure(ids[i]),
        after: { order: sure(place.keys[i]), removed: false, content },
      })),
      ...keys.filter((k) => k.id !== row.id),
    ]);
    return ids;
  }

  /** Moves a block to where another is; a section takes all that is in it along. */
  move(id: string, to: number) {
    const rows = this.blocks();
    const from = rows.findIndex((r) => r.id === id);
    const span = core.span(rows, from);
    if (from < 0 || to < 0 || (to >= from && to < from + span)) return;
    const moving = rows.slice(from, from + span);
    const others = [...rows.slice(0, from), ...rows.slice(from + span)];
    const place = core.arrange(
      others.map((r) => r.order),
      to > from ? to - span + 1 : to,
      span,
    );
    const changes = moving.map((r, i) => ({
      id: r.id,
      after: { order: sure(place.keys[i]), removed: false, content: r.content },
    }));
    const label = `Move a ${rows[from]?.content.type ?? "step"}`;
    this.edit(label, [...changes, ...anew(others, place.anew)]);
  }

  remove(id: string) {
    const s = this.local.get(id);
    const label = s?.content.type === "section" ? "Delete a heading" : `Delete a ${s?.content.type ?? "step"}`;
    if (s) this.edit(label, [{ id, after: { ...s, removed: true } }]);
  }

  // Edits of several blocks that were chosen.

  removeAll(ids: string[]) {
    const rows = this.blocks().filter((r) => ids.includes(r.id));
    this.edit(
      "Delete what was chosen",
      rows.map((r) => ({ id: r.id, after: { order: r.order, removed: true, content: r.content } })),
    );
  }

  duplicateAll(ids: string[]): string[] {
    const rows = this.blocks();
    const chosen = rows.filter((r) => ids.includes(r.id));
    const last = rows.findLastIndex((r) => ids.includes(r.id));
    return this.insert(
      "Duplicate what was chosen",
      last + 1,
      chosen.map((r) => copyOf(r.content)),
    );
  }

  /** Moves blocks by one place, past what stands before or behind the first of them; they stand together then. */
  moveAll(ids: string[], by: -1 | 1) {
    const rows = this.blocks();
    const chosen = rows.filter((r) => ids.includes(r.id));
    const others = rows.filter((r) => !ids.includes(r.id));
    const first = rows.findIndex((r) => ids.includes(r.id));
    const together = chosen.every((r, i) => rows[first + i]?.id === r.id);
    const to = together
      ? first + by
      : by < 0
        ? first
        : rows.findLastIndex((r) => ids.includes(r.id)) - chosen.length + 1;
    if (first < 0 || to < 0 || to > others.length) return;
    const place = core.arrange(
      others.map((r) => r.order),
      to,
      chosen.length,
    );
    const changes = chosen.map((r, i) => ({
      id: r.id,
      after: { order: sure(place.keys[i]), removed: false, content: r.content },
    }));
    this.edit("Move what was chosen", [...changes, ...anew(others, place.anew)]);
  }

  /** Puts one block in the place of several; those that were changed since they were read stay behind it. */
  replaceAll(label: string, read: Row[], content: BlockState["content"]) {
    const rows = this.blocks();
    const ids = read.filter((r) => same(r.content, rows.find((now) => now.id === r.id)?.content)).map((r) => r.id);
    const first = rows.findIndex((r) => ids.includes(r.id));
    const place = core.arrange(
      rows.map((r) => r.order),
      Math.max(0, first),
      1,
    );
    const made = { id: newID(), after: { order: sure(place.keys[0]), removed: false, content } };
    const keys = anew(rows, place.anew).filter((k) => !ids.includes(k.id));
    const gone = rows
      .filter((r) => ids.includes(r.id))
      .map((r) => ({ id: r.id, after: { order: r.order, removed: true, content: r.content } }));
    this.edit(label, [made, ...keys, ...gone]);
  }

  /** Words as they are typed. The editor shows its letters itself, so that no key waits for the rest of the page. */
  type(id: string, words: BlockState["content"]["words"]) {
    const s = this.local.get(id);
    if (s) this.edit("Write words", [{ id, after: { ...s, content: { ...s.content, words } } }], true, true);
  }
}

/** Content that may stand beside what it was copied from: its pictures have ids of their own. */
const copyOf = (content: BlockState["content"]): BlockState["content"] => ({
  ...content,
  figures: content.figures.map((f) => ({ ...f, id: newID() })),
});

const strip = ({ content, order, removed }: BlockState): BlockState => ({ content, order, removed });

const knownOf = (s: Block): Known =>
  tidy({ order: s.order, removed: s.removed ?? false, content: s.content, version: s.version, by: s.changedBy });

const anew = (rows: Row[], keys: string[] | undefined) =>
  (keys ?? []).map((order, i) => {
    const row = sure(rows[i]);
    return { id: row.id, after: { order, removed: false, content: row.content } };
  });
