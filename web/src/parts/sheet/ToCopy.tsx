import { Button, Input, Segmented } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type ApiError } from "../../api/client";
import { Num } from "../figures/Num";

/** The injectors' figures at this pressure, in the axes and units of the program that they are copied into. */
export function ToCopy({ number }: { number: string }) {
  const [open, setOpen] = useState(false);
  const [axes, setAxes] = useState({ volts: "", pressures: "" });
  const [rows, setRows] = useState<"volts" | "pressure">("volts");
  const [unit, setUnit] = useState<"ms" | "µs">("ms");
  const [pressure, setPressure] = useState<"across" | "absolute">("across");
  const [decimal, setDecimal] = useState<"." | ",">(".");
  const query = { ...axes, rows, unit, pressure, decimal };
  const told = useQuery({
    meta: { shown: true },
    queryKey: ["to-copy", number, query],
    enabled: open,
    retry: false,
    queryFn: () =>
      take(api.GET("/api/jobs/{number}/figures-to-copy", { params: { path: { number }, query } })),
    placeholderData: (before) => before,
  });
  const found = told.error ? null : told.data;
  return (
    <details
      className="sheet"
      style={{ marginTop: 14 }}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary>Injector figures, to copy into its own program</summary>
      {told.error && <p>{(told.error as ApiError).message}</p>}
      <div className="row" style={{ alignItems: "flex-end", margin: "8px 0" }}>
        {(["volts", "pressures"] as const).map((axis) => (
          <label key={axis} className="stacked" style={{ flex: "1 1 220px" }}>
            {axis === "volts" ? "Its voltages, V" : "Its pressures, kPa"}
            <Input
              className="num"
              placeholder="as on the injector's sheet"
              value={axes[axis]}
              onChange={(event) => setAxes({ ...axes, [axis]: event.target.value })}
            />
          </label>
        ))}
      </div>
      <div className="row" style={{ margin: "8px 0" }}>
        <Segmented
          value={rows}
          onChange={setRows}
          aria-label="What runs down"
          options={[
            { value: "volts", label: "volts down" },
            { value: "pressure", label: "pressure down" },
          ]}
        />
        <Segmented value={unit} onChange={setUnit} aria-label="Unit of its cells" options={["ms", "µs"]} />
        <Segmented
          value={pressure}
          onChange={setPressure}
          aria-label="What its pressure means"
          options={[
            { value: "across", label: "across the injector" },
            { value: "absolute", label: "absolute in the rail" },
          ]}
        />
        <Segmented
          value={decimal}
          onChange={setDecimal}
          aria-label="Decimal mark"
          options={[
            { value: ".", label: "0.8" },
            { value: ",", label: "0,8" },
          ]}
        />
      </div>
      {found && (
        <>
          <p>
            {found.injectors}, {found.fuel}, at <Num value={found.across_kpa} unit="kPa" />:{" "}
            <span className="num">{found.flow.toFixed(1)} cm³/min</span> ·{" "}
            <span className="num">{found.flow_lb_h.toFixed(2)} lb/h</span> ·{" "}
            <span className="num">{found.mass_g_s.toFixed(3)} g/s</span> · density{" "}
            <span className="num">{found.density.toFixed(4)} g/cm³</span>
          </p>
          {found.text ? (
            <>
              <pre className="num" aria-label="Dead times to copy" style={{ overflowX: "auto" }}>
                {found.text}
              </pre>
              <div className="row">
                <Button onClick={() => void navigator.clipboard.writeText(found.text)}>
                  Copy the dead times
                </Button>
                {found.beyond > 0 && (
                  <span className="soft">
                    {found.beyond} of {found.cells} cells lie beyond the sheet's own points and are held at
                    its edge.
                  </span>
                )}
              </div>
            </>
          ) : (
            <p className="soft">The injectors' sheet has no dead times yet.</p>
          )}
        </>
      )}
    </details>
  );
}
