import { Button } from "antd";
import { useEffect } from "react";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { api, take } from "../api/client";

/** A card that is printed and stays in the vehicle: selector, modes, presets, options, or entries press by press. */
export default function CardPage() {
  const { number = "", part = "" } = useParams();
  const card = useQuery({
    meta: { shown: true },
    queryKey: ["map-card", number, part],
    queryFn: () =>
      take(api.GET("/api/jobs/{number}/map-card/{part}", { params: { path: { number, part } } })),
  });
  useEffect(() => {
    document.title = `Card ${number} · Vent Map`;
  }, [number]);
  const data = card.data;
  return (
    <main className="floor" id="work">
      <div className="title no-print">
        <h1>Card of job {number}</h1>
        <div className="end">
          <Button type="primary" onClick={() => window.print()}>
            Print
          </Button>
        </div>
      </div>
      {card.error && <p className="sheet">{card.error.message}</p>}
      {data && (
        <section className="sheet map-card" aria-label={data.title}>
          <h2>{data.title}</h2>
          <p>
            {data.vehicle} · {data.registration} · {data.device} · {data.map}
          </p>
          <table className="plain">
            <thead>
              <tr>
                {data.heads.map((head, n) => (
                  <th key={n}>{head}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {data.lines.map((line, n) => (
                <tr key={n}>
                  {line.map((cell, k) => (
                    <td key={k}>{cell}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          {data.notes.map((note) => (
            <p key={note}>{note}</p>
          ))}
        </section>
      )}
    </main>
  );
}
