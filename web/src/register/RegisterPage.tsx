import "../frame/fields.css";
import "../frame/lists.css";
import "./register.css";

import { usePane, Panes } from "../frame/Panes";
import { useTitle } from "../frame/title";
import { Customers } from "./Customers";
import { Devices } from "./Devices";

const PANES = [
  ["customers", "Customers"],
  ["devices", "Devices"],
] as const;

/** Customers, and devices with where each is and was. */
export function RegisterPage() {
  const [pane, choose] = usePane(PANES);
  useTitle(pane === "devices" ? "Devices" : "Customers");
  return (
    <main className="page">
      <h1>Register</h1>
      <Panes label="Register" panes={PANES} here={pane} onChoose={choose} />
      {pane === "customers" ? <Customers /> : <Devices />}
    </main>
  );
}
