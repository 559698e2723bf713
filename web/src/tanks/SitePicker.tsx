import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../api/keys";
import { api, ask, wordsOf } from "../api/client";

/** All sites. */
export function useSites() {
  const { data } = useQuery({
    queryKey: keys.sites,
    queryFn: () => ask(api.GET("/api/sites/", { params: { query: { page_size: 200 } } })),
  });
  return data?.results;
}

interface Props {
  value: number | null;
  onChange: (site: number) => void;
}

/** Choose the site, or make a new one on the spot. */
export function SitePicker({ value, onChange }: Props) {
  const id = useId();
  const sites = useSites();
  const queries = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const make = useMutation({
    mutationFn: () => ask(api.POST("/api/sites/", { body: { name: (name ?? "").trim(), notes: "" } })),
    onSuccess: async (site) => {
      await refresh(queries, keys.sites);
      onChange(site.id);
      setName(null);
    },
  });
  const empty = sites?.length === 0;
  return (
    <div className="choice-field">
      <label htmlFor={id}>Site</label>
      {name === null && !empty ? (
        <div className="site-row">
          <select
            id={id}
            className="form-select"
            value={value ?? ""}
            onChange={(event) => onChange(Number(event.target.value))}
          >
            {sites?.map((site) => (
              <option key={site.id} value={site.id}>
                {site.name}
              </option>
            ))}
          </select>
          <Button variant="outline-secondary" onClick={() => setName("")}>
            New site
          </Button>
        </div>
      ) : (
        <form
          className="site-row"
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate();
          }}
        >
          <input
            id={id}
            className="form-control"
            placeholder="Name of the new site"
            value={name ?? ""}
            maxLength={120}
            autoFocus={!empty}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" disabled={!name?.trim() || make.isPending}>
            Make site
          </Button>
          {!empty && (
            <Button variant="outline-secondary" onClick={() => setName(null)}>
              Back
            </Button>
          )}
          {make.isError && (
            <p role="alert" className="problem">
              {wordsOf(make.error)}
            </p>
          )}
        </form>
      )}
    </div>
  );
}
