import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { type Role } from "../../base/api/client";
import { useNotice } from "../../base/ui/notices";

/** What each role may do, in a few words. */
export const roles: Record<Role, string> = {
  reader: "reads and follows what is released",
  author: "writes, and releases where the folder asks for no approval",
  approver: "sees drafts, comments and approves; changes nothing",
  administrator: "may do all, and looks after accounts and folders",
};

/** All people, and doing something with them that says so when it fails. */
export function usePeople() {
  const notice = useNotice();
  const list = useQuery(ask("/api/accounts"));
  const groups = useQuery(ask("/api/groups"));
  const attempt = async <T>(work: Promise<T>): Promise<T | undefined> => {
    try {
      return await work;
    } catch (e) {
      notice({ text: reasonOf(e) });
      return undefined;
    } finally {
    }
  };
  return { list, groups, attempt, notice };
}
