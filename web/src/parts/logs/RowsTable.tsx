import { Button } from "antd";
import { useState } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { Num, placesFor, useConvert } from "../figures/Num";

interface Props {
  log: Schemas["LogOut"];
  names: string[];
  span: [number, number];
}

/** The rows of the stretch in view, as they were logged: a page at a time. */
export function RowsTable({ log, names, span }: Props) {
  const [first, setFirst] = useState(0);
  const channels = names.join(",");
  const told = useQuery({
    queryKey: ["rows", log.id, channels, ...span, first],
    queryFn: () =>
      take(
        api.GET("/api/logs/{log_id}/rows", {
          params: { path: { log_id: log.id }, query: { channels, start: span[0], stop: span[1], first } },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
    meta: { shown: true },
  });
  const convert = useConvert();
  if (told.error) return <p className="wrong">{told.error.message}</p>;
  if (!told.data) return null;
  const { columns, time_s, values, total } = told.data;
  const of = (name: string) => log.columns.find((one) => one.name === name);
  const page = time_s.length;
  return (
    <section className="sheet" aria-label="Rows">
      <div className="row" style={{ justifyContent: "space-between" }}>
        <span className="num soft">
          Rows {told.data.first + 1} to {told.data.first + page} of {total}
        </span>
        <span className="row">
          <Button disabled={first === 0} onClick={() => setFirst(Math.max(0, first - page))}>
            Rows before
          </Button>
          <Button disabled={told.data.first + page >= total} onClick={() => setFirst(first + page)}>
            Rows after
          </Button>
        </span>
      </div>
      <div className="across rows-page">
        <table className="plain">
          <thead>
            <tr>
              <th className="r">s</th>
              {columns.map((name) => (
                <th className="r" key={name}>
                  {of(name)?.label ?? name}
                  <span className="soft">{unitOf(convert, of(name)?.unit ?? "")}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {time_s.map((at, n) => (
              <tr key={n}>
                <td className="r">
                  <Num value={at} digits={3} />
                </td>
                {columns.map((name, c) => {
                  const value = values[c][n];
                  const size = Math.max(Math.abs(of(name)?.low ?? 0), Math.abs(of(name)?.high ?? 0));
                  return (
                    <td className="r" key={name}>
                      {value !== null && (
                        <Num value={convert(value, of(name)?.unit ?? "")[0]} digits={placesFor(size, 3)} />
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function unitOf(convert: (value: number, unit: string) => [number, string], unit: string): string {
  const shown = convert(0, unit)[1];
  return shown ? `, ${shown}` : "";
}
