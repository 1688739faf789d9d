import { Navigate, Route, Routes } from "react-router";
import { type Account, mayAdminister } from "../../base/api/client";
import { Nothing } from "../../base/ui/Nothing";
import { Approval } from "./Approval";
import { Doors } from "./Doors";
import { Folders } from "./Folders";
import { Keys } from "./Keys";
import { Recorders } from "./Recorders";
import { Styles } from "./Styles";
import { Words } from "./Words";

/** What a person sets up for themselves, and for the house. */
export function Setup({ account }: { account: Account }) {
  return (
    <Routes>
      <Route index element={<Navigate to="/setup/mine" replace />} />
      <Route path="mine" element={<Keys account={account} />} />
      <Route path="recorders" element={<Recorders account={account} />} />
      <Route path="styles" element={<Styles account={account} />} />
      <Route path="words" element={<Words account={account} />} />
      <Route path="doors" element={<Doors account={account} />} />
      {mayAdminister(account) && <Route path="folders" element={<Folders account={account} />} />}
      {mayAdminister(account) && <Route path="approval" element={<Approval account={account} />} />}
      <Route path="*" element={<Nothing />} />
    </Routes>
  );
}
