import "../../drawing/drawing.css";
import "../../frame/lists.css";

import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";

import { keys, refresh } from "../../api/keys";
import { api, ask, wordsOf } from "../../api/client";
import { extent } from "../../drawing/geometry";
import { SmallSection } from "../../drawing/SmallSection";
import { ConfirmDelete } from "../../people/ConfirmDelete";
import { day } from "../../frame/times";
import { useUnits } from "../../frame/units";
import { type Profile, STANDING, useProfiles } from "./profile";

type Order = "capacity_l" | "overall_diameter_mm" | "changed_at";

/** All profiles, with the tanks that use each. */
export function ProfilesPage() {
  const units = useUnits();
  const { data, error } = useProfiles();
  const [order, setOrder] = useState<Order>("capacity_l");
  useEffect(() => {
    document.title = "Profiles · Rasante";
  }, []);
  const list = (data?.results ?? []).toSorted((a, b) =>
    order === "changed_at" ? b.changed_at.localeCompare(a.changed_at) : a[order] - b[order],
  );
  const scaleMm = Math.max(
    ...list.map(({ facts }) => {
      const reach = extent(facts.drawing.along_mm);
      return Math.max(reach.right - reach.left, (reach.top - reach.bottom) * 2.3);
    }),
  );
  const heading = (key: Order, label: string) => (
    <th scope="col" className="number" aria-sort={order === key ? "ascending" : "none"}>
      <button type="button" onClick={() => setOrder(key)}>
        {label} <span aria-hidden="true">{order === key ? "↑" : ""}</span>
      </button>
    </th>
  );
  return (
    <main className="page">
      <div className="page-head">
        <h1>Profiles</h1>
        <Link to="/tanks" className="btn btn-outline-secondary">
          Tanks
        </Link>
      </div>
      {error && <p className="problem">{wordsOf(error)}</p>}
      {data?.count === 0 && (
        <p>
          There is no profile yet: open a tank&apos;s Survey and save its dimensions as one. A profile never
          changes a tank by itself.
        </p>
      )}
      {list.length > 0 && (
        <table className="tank-list profile-list">
          <thead>
            <tr>
              <th scope="col">Profile</th>
              {heading("capacity_l", `Nominal, ${units.unit("volume").name}`)}
              {heading("overall_diameter_mm", `Overall, ${units.unit("length").name}`)}
              <th scope="col">Used by</th>
              {heading("changed_at", "Changed")}
              <th scope="col">
                <span className="visually-hidden">What can be done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {list.map((profile) => (
              <Row key={profile.id} profile={profile} scaleMm={scaleMm} />
            ))}
          </tbody>
        </table>
      )}
    </main>
  );
}

function Row({ profile, scaleMm }: { profile: Profile; scaleMm: number }) {
  const units = useUnits();
  const queries = useQueryClient();
  return (
    <tr>
      <td>
        <span className="tank-link">
          <SmallSection
            drawing={profile.facts.drawing}
            pattern="other"
            levelMm={null}
            scaleMm={scaleMm}
            width={96}
            height={48}
          />
          <span>
            {profile.name}
            <span className="text-quiet"> · revision {profile.revision}</span>
            {profile.notes && <span className="d-block text-quiet">{profile.notes}</span>}
          </span>
        </span>
      </td>
      <td className="number mono">{units.number("volume", profile.capacity_l)}</td>
      <td className="number mono">{units.number("length", profile.overall_diameter_mm)}</td>
      <td>
        {profile.used_by.length === 0 && <span className="text-quiet">no tank</span>}
        <ul className="profile-users">
          {profile.used_by.map((tank) => (
            <li key={tank.id}>
              <Link to={`/tanks/${tank.id}/survey`}>{tank.name}</Link>: {STANDING[tank.standing]}
              {tank.standing === "newer" && ` than the revision ${tank.revision} it took`}
            </li>
          ))}
        </ul>
      </td>
      <td>
        {day(profile.changed_at)} {profile.changed_by}
      </td>
      <td>
        <ConfirmDelete
          label="Delete"
          name={profile.name}
          remove={() => ask(api.DELETE("/api/profiles/{id}/", { params: { path: { id: profile.id } } }))}
          onDone={() => refresh(queries, keys.profiles)}
        >
          The profile goes. The {profile.used_by.length} tank(s) that use it keep their dimensions.
        </ConfirmDelete>
      </td>
    </tr>
  );
}
