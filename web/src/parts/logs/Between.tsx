import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { api, take, type Schemas } from "../../api/client";
import { Num, placesFor, useConvert } from "../figures/Num";

interface Props {
  log: Schemas["LogOut"];
  names: string[];
  span: [number, number];
  onClose: () => void;
}

/** What each channel in view did between the two marks: a line each. */
export function Between({ log, names, span, onClose }: Props) {
  const channels = names.join(",");
  const told = useQuery({
    queryKey: ["between", log.id, channels, ...span],
    queryFn: () =>
      take(
        api.GET("/api/logs/{log_id}/between", {
          params: { path: { log_id: log.id }, query: { channels, start: span[0], stop: span[1] } },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
    meta: { shown: true },
  });
  const convert = useConvert();
  const column = (name: string) => log.columns.find((one) => one.name === name);
  return (
    <section className="sheet between" aria-label="Between the marks">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <h2>
          Between <Num value={span[0]} unit="s" digits={2} /> and <Num value={span[1]} unit="s" digits={2} />:{" "}
          <Num value={span[1] - span[0]} unit="s" digits={2} />
        </h2>
        <Button onClick={onClose}>Take the marks away</Button>
      </div>
      {told.error && <p className="soft">{told.error.message}</p>}
      {told.data && (
        <div className="across">
          <table className="plain">
            <thead>
              <tr>
                <th>Channel</th>
                {["First", "Last", "Change", "Least", "Mean", "Most", "Scatter", "Samples"].map((head) => (
                  <th className="r" key={head}>
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {told.data.map((one) => {
                const { label, unit } = column(one.name) ?? { label: one.name, unit: "" };
                const digits = placesFor(Math.max(Math.abs(one.least), Math.abs(one.most)), 3);
                const at = (value: number) => convert(value, unit)[0];
                const apart = (value: number | null) => (value === null ? null : at(value) - at(0));
                const shown = convert(0, unit)[1];
                return (
                  <tr key={one.name}>
                    <td>
                      {label}
                      {shown && <span className="soft">, {shown}</span>}
                    </td>
                    <Cell value={at(one.first)} digits={digits} />
                    <Cell value={at(one.last)} digits={digits} />
                    <Cell value={apart(one.last - one.first)} digits={digits} />
                    <Cell value={at(one.least)} digits={digits} />
                    <Cell value={at(one.mean)} digits={digits} />
                    <Cell value={at(one.most)} digits={digits} />
                    <Cell value={apart(one.scatter)} digits={digits + 1} />
                    <Cell value={one.samples} digits={0} />
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

function Cell({ value, digits }: { value: number | null; digits: number }) {
  return (
    <td className="r">
      <Num value={value} digits={digits} />
    </td>
  );
}
