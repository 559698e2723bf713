import "../drawing/drawing.css";
import "../line/line.css";
import "../tanks/survey/survey.css";
import "../tanks/table/table.css";
import "../tanks/tanks.css";

import { Suspense, useEffect, useRef, useState } from "react";
import { Link, Navigate, useNavigate, useParams } from "react-router";

import { Section } from "../drawing/Section";
import { Refusal } from "../frame/Refusal";
import { useTitle } from "../frame/title";
import { useNarrow } from "../frame/useSize";
import { beforehand, later } from "../frame/later";
import { useKeys } from "../frame/keys";
import { STATE_SHAPES, STATIONS, useStations } from "../board/stations";
import { LOADS, loadTrouble } from "./stationPages";
import { LineProvider, useCurve, useLine } from "../line/line";
import { LineReadouts } from "../line/LineReadouts";
import { NowBar } from "../readings/NowBar";
import { useKeptMarks } from "../scaling/marks";
import { ShownShape, useShownShape } from "../tanks/shown";
import { portMarks, type Tank, useTank } from "../tanks/tank";
import { useKeptGauge } from "../gauges/gauge";
import { Opening } from "../frame/Opening";

const PAGES = {
  survey: later(LOADS.survey),
  table: later(LOADS.table),
  gauge: later(LOADS.gauge),
  wiring: later(LOADS.wiring),
  scale: later(LOADS.scale),
  prove: later(LOADS.prove),
  watch: later(LOADS.watch),
  trouble: later(loadTrouble),
};

/** The stations at which a phone's room goes to the work: the section is folded away there. */
const FOLDED: (keyof typeof PAGES)[] = ["gauge", "wiring", "scale", "prove", "watch", "trouble"];

function isPage(key: string | undefined): key is keyof typeof PAGES {
  return key !== undefined && Object.hasOwn(PAGES, key);
}

/** A tank: its section and the line at the left, the stations of its work at the right. */
export function TankPage() {
  const { id: text, station } = useParams();
  const id = Number(text);
  const { data: tank } = useTank(id);
  const curve = useCurve(id);
  const navigate = useNavigate();
  const narrow = useNarrow();
  const [shown, setShown] = useState<Tank["facts"] | null>(null);
  useKeys(
    Object.fromEntries(
      STATIONS.map(({ key }, i) => [String(i + 1), () => void navigate(`/tanks/${id}/${key}`)]),
    ),
  );
  useEffect(() => beforehand([...Object.values(LOADS), loadTrouble]), []);
  const name = tank?.facts.name;
  const label = STATIONS.find(({ key }) => key === station)?.label;
  useTitle(name && `${name}: ${label ?? (station === "trouble" ? "Find the fault" : "Survey")}`);
  const work = useRef<HTMLDivElement>(null);
  const [first] = useState(station);
  const moved = useRef(false);
  useEffect(() => {
    // Whoever goes to another station is at its work, not at the link.
    if (station !== first) moved.current = true;
    if (moved.current) work.current?.focus({ preventScroll: true });
  }, [station, first]);
  if (!tank || !curve) return <Opening className="page" />;
  if (!isPage(station)) return <Navigate to={`/tanks/${id}/survey`} replace />;
  const Page = PAGES[station];
  return (
    <LineProvider key={id} tank={id} curve={curve}>
      <ShownShape value={{ shown, show: setShown }}>
        <main className="tank">
          <div className="tank-left">
            <h1 className="tank-name">
              <Link to={`/tanks?search=${encodeURIComponent(tank.site_name)}`}>{tank.site_name}</Link>
              <span aria-hidden="true"> / </span>
              {tank.facts.name}
            </h1>
            <p className="tank-acts">
              <Link to={`/visits/new?tank=${id}`}>Visit it</Link>
              <Link to={`/visits?tank=${id}`}>Its visits</Link>
              <Link to={`/tanks/${id}/register`}>Register</Link>
              <Link to={`/tanks/${id}/trouble`} aria-current={station === "trouble" ? "page" : undefined}>
                Find the fault
              </Link>
            </p>
            {narrow && <Stations id={id} here={station} />}
            {narrow && FOLDED.includes(station) ? (
              <details className="folded">
                <summary>Section and line</summary>
                <TankSection tank={tank} />
                <NowBar tank={tank} />
                <LineReadouts />
              </details>
            ) : (
              <>
                <TankSection tank={tank} />
                <NowBar tank={tank} />
                <LineReadouts />
              </>
            )}
          </div>
          <div className="tank-right" ref={work} tabIndex={-1}>
            {!narrow && <Stations id={id} here={station} />}
            <Suspense key={station} fallback={<Opening />}>
              <Refusal key={station}>
                <Page tank={tank} />
              </Refusal>
            </Suspense>
          </div>
        </main>
      </ShownShape>
    </LineProvider>
  );
}

function TankSection({ tank }: { tank: Tank }) {
  const { line, curve, move, nudge } = useLine();
  const { shown } = useShownShape();
  const { data: kept } = useKeptGauge(tank.id);
  const { data: marks } = useKeptMarks(tank.id);
  const ports = portMarks(tank.ports, tank.port_positions_mm);
  if (shown)
    return (
      <>
        <Section
          drawing={shown.drawing}
          pattern={shown.pattern}
          product={shown.product}
          capacityL={shown.capacity_l}
          ports={ports}
          limits={shown.limits}
          levelMm={Math.min(line.innage_mm, shown.inside_height_mm)}
        />
        <p className="save-state waiting">
          The drawing shows the survey as typed; the readings are of the kept one.
        </p>
      </>
    );
  return (
    <Section
      drawing={tank.facts.drawing}
      pattern={tank.facts.pattern}
      product={tank.facts.product}
      capacityL={tank.facts.capacity_l}
      ports={ports}
      limits={tank.facts.limits}
      levelMm={line.innage_mm}
      volumeL={line.volume_l}
      volumeU95L={line.u95_l}
      gauge={kept?.drawn}
      marks={marks?.marks}
      curve={curve}
      onMove={move}
      onNudge={nudge}
    />
  );
}

function Stations({ id, here }: { id: number; here: keyof typeof PAGES }) {
  const { data } = useStations(id);
  return (
    <nav aria-label="Stations" className="stations">
      {STATIONS.map(({ key, label }) => {
        const work = data?.find((station) => station.key === key);
        return (
          <Link
            key={key}
            to={`/tanks/${id}/${key}`}
            aria-current={key === here ? "page" : undefined}
            className={`station ${(work?.state ?? "").replace(" ", "-")}`}
            title={work?.words}
          >
            <span className="station-tick" aria-hidden="true">
              {STATE_SHAPES[work?.state ?? "not started"]}
            </span>
            <span className="station-label">{label}</span>
            <span className="station-state">{work?.state ?? ""}</span>
          </Link>
        );
      })}
    </nav>
  );
}
