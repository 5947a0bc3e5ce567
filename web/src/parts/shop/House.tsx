import { Alert, Button, Input } from "antd";
import { useState } from "react";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Figure } from "../figures/Figure";
import { plain, useConvert } from "../figures/Num";

/** The shop itself: its name on reports, the altitude that jobs take over, the money that prices are in. */
export function House({ session }: { session: Schemas["SessionOut"] }) {
  const convert = useConvert();
  const [altitude, unit] = convert(session.altitude_m ?? 0, "m");
  const [typed, setTyped] = useState<{ name?: string; town?: string; currency?: string; altitude?: string }>(
    {},
  );
  const [told, setTold] = useState<{ text: string; field?: string | null } | null>(null);
  const keep = useAct(
    () =>
      take(
        api.PUT("/api/house", {
          body: {
            name: typed.name ?? session.house ?? "",
            town: typed.town ?? session.town ?? "",
            currency: typed.currency ?? session.currency ?? "",
            altitude: typed.altitude ?? String(session.altitude_m),
            unit: typed.altitude === undefined ? "m" : unit,
          },
        }),
      ).catch((error: ApiError) => {
        setTold({ text: error.message, field: error.field ?? "" });
        throw error;
      }),
    (answer) => (setTold({ text: answer.sentence ?? "" }), setTyped({})),
  );
  const lead = session.role === "lead";
  const text = (name: "name" | "town" | "currency", label: string, value: string | undefined) => (
    <label style={{ display: "block" }}>
      <span className="soft">{label}</span>
      <Input
        disabled={!lead}
        aria-label={label}
        value={typed[name] ?? value}
        onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
      />
    </label>
  );
  return (
    <>
      <div className="title">
        <h1>{session.house}</h1>
        <span className="soft">{session.town}</span>
      </div>
      <div className="sheet" style={{ maxWidth: 640 }}>
        <div className="cols">
          {text("name", "Name of the shop", session.house)}
          {text("town", "Town", session.town)}
          <Figure
            wide
            disabled={!lead}
            label="Altitude"
            quantity="altitude"
            unit="m"
            value={typed.altitude ?? plain(altitude, 0).replace("\u202f", "")}
            onChange={(value) => setTyped({ ...typed, altitude: value })}
          />
          {text("currency", "Money", session.currency)}
        </div>
        {told && (
          <Alert
            type={told.field === undefined ? "success" : "error"}
            title={told.text}
            style={{ marginTop: 12 }}
          />
        )}
        {lead ? (
          <Button
            type="primary"
            style={{ marginTop: 12 }}
            loading={keep.isPending}
            onClick={() => keep.mutate(undefined)}
          >
            Keep
          </Button>
        ) : (
          <p className="soft" style={{ marginTop: 10 }}>
            The lead changes these.
          </p>
        )}
      </div>
    </>
  );
}
