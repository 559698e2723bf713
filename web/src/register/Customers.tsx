import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useMemo, useState } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, Refused, type Schema } from "../api/client";
import { keys, refresh } from "../api/keys";
import { Conflict } from "../frame/Conflict";
import { useTyped } from "../frame/draft";
import { Opening } from "../frame/Opening";
import { More, usePages } from "../frame/pages";
import { ConfirmDelete } from "../people/ConfirmDelete";
import { PersonField, problemAt, ProblemLine } from "../people/fields";

type Customer = Schema["Customer"];
type Noted = Record<"name" | "branch" | "contact" | "telephone" | "email" | "notes", string>;

const FIELDS = [
  ["name", "Name"],
  ["branch", "Branch"],
  ["contact", "Contact"],
  ["telephone", "Telephone"],
  ["email", "E-mail"],
  ["notes", "Notes"],
] as const;
const BLANK: Noted = { name: "", branch: "", contact: "", telephone: "", email: "", notes: "" };

/** Every customer; each can be changed, and given tanks from a file. */
export function Customers() {
  const [opened, setOpened] = useState<number | "new" | null>(null);
  const [listing, setListing] = useState<number | null>(null);
  const queries = useQueryClient();
  const pages = usePages(keys.customers, (page) =>
    ask(api.GET("/api/customers/", { params: { query: { page } } })),
  );
  if (!pages.all) return <Opening />;
  const done = async () => {
    setOpened(null);
    await refresh(queries, keys.customers);
  };
  return (
    <section aria-label="Customers">
      <Button onClick={() => setOpened("new")}>New customer</Button>
      {opened === "new" && <CustomerForm customer={null} onDone={done} />}
      {pages.all.length === 0 && (
        <p className="empty">
          No customer yet. Own stock needs none; a customer&apos;s tank names its owner.
        </p>
      )}
      {pages.all.map((customer) => (
        <article key={customer.id} className="registered" aria-label={customer.name}>
          <h2>
            {customer.name}
            {customer.branch && `, ${customer.branch}`}
          </h2>
          <p className="text-quiet">
            {[customer.contact, customer.telephone, customer.email].filter(Boolean).join(" · ") ||
              "nobody to call noted"}
            {" · "}
            {customer.sites} sites, {customer.tanks} tanks
          </p>
          <div className="person-acts">
            <Button size="sm" variant="outline-secondary" onClick={() => setOpened(customer.id)}>
              Change
            </Button>
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => setListing(listing === customer.id ? null : customer.id)}
            >
              Tanks from a file
            </Button>
            <ConfirmDelete
              label="Delete"
              name={customer.name}
              remove={() =>
                ask(api.DELETE("/api/customers/{id}/", { params: { path: { id: customer.id } } }))
              }
              onDone={done}
            >
              One who has sites or tanks is not deleted.
            </ConfirmDelete>
          </div>
          {opened === customer.id && <CustomerForm customer={customer} onDone={done} />}
          {listing === customer.id && <TankList customer={customer} />}
        </article>
      ))}
      <More pages={pages} what="customers" />
    </section>
  );
}

function keptOf(customer: Customer | null): { value: Noted; revision: number } {
  const { name, branch, contact, telephone, email, notes } = customer ?? BLANK;
  return { value: { name, branch, contact, telephone, email, notes }, revision: customer?.revision ?? 0 };
}

function CustomerForm({ customer, onDone }: { customer: Customer | null; onDone: () => Promise<void> }) {
  const kept = useMemo(() => keptOf(customer), [customer]);
  const draft = useTyped<Noted>(`customer:${customer?.id ?? 0}`, kept, {
    name: customer?.name ?? "New customer",
    page: "/register",
  });
  const { value: asKept, revision } = draft.kept ?? kept;
  const typed = draft.value ?? asKept;
  const keep = useMutation({
    mutationFn: (sent: Noted) => {
      const body = { ...sent, revision: draft.entry?.base ?? revision };
      return customer
        ? ask(api.PUT("/api/customers/{id}/", { params: { path: { id: customer.id } }, body }))
        : ask(api.POST("/api/customers/", { body }));
    },
    onSuccess: async (answer, sent) => {
      if (customer) draft.done(sent, keptOf(answer));
      else draft.clear();
      await onDone();
    },
  });
  return (
    <form
      className="person-form"
      onSubmit={(submit) => {
        submit.preventDefault();
        keep.mutate(typed);
      }}
    >
      {FIELDS.map(([key, label]) => (
        <PersonField
          key={key}
          label={label}
          value={typed[key]}
          problem={problemAt(keep.error, key)}
          onChange={(text) => draft.change({ ...typed, [key]: text })}
        />
      ))}
      {draft.conflict ? (
        <Conflict typed={draft} />
      ) : (
        <ProblemLine error={keep.error} but={FIELDS.map(([key]) => key)} />
      )}
      <div className="person-acts">
        <Button type="submit" disabled={!typed.name.trim() || draft.conflict || keep.isPending}>
          Keep
        </Button>
        {draft.value && (
          <Button variant="outline-secondary" onClick={draft.discard}>
            Put away what was typed
          </Button>
        )}
      </div>
    </form>
  );
}

/** A customer's tanks from a CSV file: all of them are made, or none. */
function TankList({ customer }: { customer: Customer }) {
  const id = useId();
  const queries = useQueryClient();
  const make = useMutation({
    mutationFn: async (file: File) =>
      ask(
        api.POST("/api/customers/{id}/tanks/", {
          params: { path: { id: customer.id } },
          body: { text: await file.text() },
        }),
      ),
    onSuccess: () => refresh(queries, keys.customers, keys.tanks, keys.sites, keys.board),
  });
  return (
    <div className="person-form">
      <p>
        A CSV file with the columns <code>site, tank, product, profile, painted</code>: each tank takes its
        dimensions from a profile that is known here.
      </p>
      <label htmlFor={id} className="btn btn-outline-secondary">
        Choose the file
      </label>
      <input
        id={id}
        type="file"
        accept=".csv,text/csv"
        className="visually-hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) make.mutate(file);
          event.target.value = "";
        }}
      />
      {make.data && <p role="status">Made: {make.data.made.join(", ")}.</p>}
      {make.error instanceof Refused ? (
        <ul role="alert" className="problem">
          {make.error.problems.map((one) => (
            <li key={one.where + one.what}>
              {one.where}: {one.what}
            </li>
          ))}
        </ul>
      ) : (
        <ProblemLine error={make.error} />
      )}
    </div>
  );
}
