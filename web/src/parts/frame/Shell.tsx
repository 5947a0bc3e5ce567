import { Button, Drawer, Input, Modal } from "antd";
import { useEffect, useState, type ReactNode } from "react";
import { NavLink, useLocation, useNavigate } from "react-router";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { forgetSeen } from "../../away/worker";
import { useLook } from "../../theme/Look";
import { Mark } from "../figures/Glyphs";
import { Guarded } from "./Guarded";
import { useKeys } from "./keys";
import { Waits } from "./NowStrip";
import { askTour } from "./tour";
import { Outbox } from "./Outbox";
import { PracticeMark } from "../shop/Practice";
import { Unread } from "./Unread";

const KEYS: [string, string][] = [
  ["[ ]", "previous, next slat"],
  ["n", "the next open step"],
  ["+ − 0", "in a log: closer, wider, the whole"],
  ["← →", "in a log: back and on"],
  ["Enter", "done, when the step is in front"],
  ["e", "enter the reading"],
  ["t", "start the step's timer"],
  ["/", "find a job or a slat"],
  ["u", "swap the unit set"],
  ["g", "day or night"],
  ["l", "large touch, for gloves"],
  ["?", "this list"],
];

/** The bar on top of every screen, finding, and the list of keys. */
export function Shell({ session, children }: { session: Schemas["SessionOut"]; children: ReactNode }) {
  const { dark, turnNight, swapUnits, imperial, gloves, swapGloves } = useLook();
  const [finding, setFinding] = useState(false);
  const [keys, setKeys] = useState(false);
  const go = useNavigate();
  const place = useLocation();
  const client = useQueryClient();
  useKeys({
    "/": () => setFinding(true),
    "?": () => setKeys(true),
    u: swapUnits,
    g: turnNight,
    l: swapGloves,
  });
  const leave = async () => {
    await take(api.DELETE("/api/sessions/current"));
    client.clear();
    forgetSeen();
    location.assign("/sign-in");
  };
  const units = imperial ? "psi · °F" : "kPa · °C";
  return (
    <div className="shell">
      <header className="bar">
        <a className="skip" href="#work">
          To the work
        </a>
        <NavLink to="/floor" className="mark">
          <Mark /> VENT MAP
        </NavLink>
        <nav aria-label="Main">
          <NavLink to="/floor">Floor</NavLink>
          <NavLink to="/jobs">Jobs</NavLink>
          <NavLink to="/shelf">Shelf</NavLink>
          <NavLink to="/sums">Sums</NavLink>
          <NavLink to="/shop">Shop</NavLink>
          <NavLink to="/guide">Guide</NavLink>
        </nav>
        <PracticeMark />
        <Outbox session={session} />
        <div className="end">
          <NavLink to="/look" className="quiet">
            Drop a log
          </NavLink>
          <button className="quiet" onClick={() => setFinding(true)}>
            Find <kbd>/</kbd>
          </button>
          <button className="quiet" onClick={swapUnits} aria-label={`${units}: swap the unit set`}>
            {units}
          </button>
          <button className="quiet" onClick={turnNight}>
            {dark ? "Day" : "Night"}
          </button>
          <button className="quiet" onClick={() => setKeys(true)} aria-label="? Keys">
            ?
          </button>
          <NavLink to="/shop/me" className="quiet">
            {session.name} · {session.role}
          </NavLink>
          <button className="quiet" onClick={leave}>
            Sign out
          </button>
        </div>
      </header>
      <div className="screen">
        <div>
          <Unread />
        </div>
        <div>
          <Guarded of={[place.pathname]} what="This screen">
            {children}
          </Guarded>
        </div>
      </div>
      <Waits />
      {finding && (
        <Find onClose={() => setFinding(false)} go={(to) => void go(to)} stages={session.stages ?? []} />
      )}
      <Drawer open={keys} onClose={() => setKeys(false)} title="Keys, touch, a tour" size={360}>
        <table className="plain">
          <tbody>
            {KEYS.map(([key, what]) => (
              <tr key={key}>
                <td>
                  <kbd>{key}</kbd>
                </td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <Button block size="large" style={{ marginTop: 16 }} aria-pressed={gloves} onClick={swapGloves}>
          {gloves ? "Plain touch" : "Large touch, for gloves"}
        </Button>
        <Button block size="large" style={{ marginTop: 8 }} onClick={() => (setKeys(false), askTour())}>
          Show me round a job
        </Button>
      </Drawer>
    </div>
  );
}

function Find({
  onClose,
  go,
  stages,
}: {
  onClose: () => void;
  go: (to: string) => void;
  stages: Schemas["StageOut"][];
}) {
  const [text, setText] = useState("");
  const jobs = useQuery({ queryKey: ["jobs"], queryFn: () => take(api.GET("/api/jobs")) });
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const places = (jobs.data ?? []).flatMap((job) =>
    [
      { key: job.stage, label: `next: ${job.next}` },
      ...stages.map((s) => ({ key: s.key, label: s.label })),
    ].map((stage) => ({
      to: `/jobs/${job.number}/${stage.key}`,
      text: `${job.number} ${job.vehicle} ${job.registration} ${job.owner} · ${stage.label}`,
    })),
  );
  const found = places
    .filter((place) => words.every((word) => place.text.toLowerCase().includes(word)))
    .slice(0, 9);
  const open = (to: string) => (onClose(), go(to));
  // Enter that was quicker than the list of jobs waits for it.
  const [entered, setEntered] = useState(false);
  const first = found[0]?.to;
  useEffect(() => {
    if (entered && first) open(first);
  }, [entered, first]); // eslint-disable-line
  return (
    <Modal open onCancel={onClose} footer={null} title="Find a job or a slat">
      <Input
        autoFocus
        value={text}
        onChange={(event) => (setText(event.target.value), setEntered(false))}
        onPressEnter={() => setEntered(true)}
        placeholder="number, owner, registration, slat"
      />
      {found.map((place) => (
        <Button
          key={place.to + place.text}
          type="text"
          block
          style={{ textAlign: "left", justifyContent: "flex-start" }}
          onClick={() => open(place.to)}
        >
          {place.text}
        </Button>
      ))}
      {jobs.data && !found.length && <p className="soft">Nothing fits. Try fewer words.</p>}
    </Modal>
  );
}
