import type { Schemas } from "../../api/client";

/** The record behind the report: settings, maps, readings, what was overruled, and what the owner is told. */
export function ReportTables({ r }: { r: Schemas["ReportOut"] }) {
  return (
    <>
      {r.settings.length > 0 && (
        <div className="sheet">
          <span className="head">Set in the map</span>
          <table className="plain">
            <thead>
              <tr>
                <th>setting</th>
                <th className="r">before</th>
                <th className="r">after</th>
                <th>why</th>
              </tr>
            </thead>
            <tbody>
              {r.settings.map((s) => (
                <tr key={s.name}>
                  <td>{s.name}</td>
                  <td className="r num">{s.old}</td>
                  <td className="r num">{s.new}</td>
                  <td>{s.why}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {r.statements.length > 0 && (
        <div className="sheet">
          <span className="head">Closed course only, signed</span>
          {r.statements.map((one) => (
            <div key={one.what + one.at}>
              {one.what}: {one.name}, {one.at}
            </div>
          ))}
        </div>
      )}
      {r.rounds.length > 0 && (
        <div className="sheet">
          <span className="head">Rounds with the tuner</span>
          {r.rounds.map((one) => (
            <div key={one.number} style={{ padding: "3px 0" }}>
              <b>Round {one.number}</b> <span className="num">{one.at}</span> {one.sent}; {one.came}
            </div>
          ))}
        </div>
      )}
      {r.maps.length > 0 && (
        <div className="sheet">
          <span className="head">Maps</span>
          <table className="plain">
            <tbody>
              {r.maps.map((m) => (
                <tr key={m.crc32 + m.version}>
                  <td className="num">{m.version}</td>
                  <td>{m.note}</td>
                  <td className="num">CRC-32 {m.crc32}</td>
                  <td>
                    {m.by}, {m.at}
                  </td>
                  <td>{m.loaded ? "loaded, verified" : "not loaded"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <div className="sheet">
        <span className="head">Done and read</span>
        <table className="plain">
          <tbody>
            {r.work.map((line) => (
              <tr key={line.what}>
                <td>{line.what}</td>
                <td>{line.result}</td>
                <td className="soft">
                  {line.who}, {line.at}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="sheet">
        <span className="head">Judged</span>
        <table className="plain">
          <tbody>
            {r.calls.map((line, index) => (
              <tr key={index}>
                <td>
                  <b>{line.verdict}</b>
                </td>
                <td>{line.title}</td>
                <td className="soft">{line.figures}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {r.set_aside.length > 0 && (
        <div className="sheet">
          <span className="head">Did not apply</span>
          {r.set_aside.map((line) => (
            <div key={line.what}>
              <b>{line.what}</b> {line.result} <span className="soft">{line.who}</span>
            </div>
          ))}
        </div>
      )}
      {r.not_done.length > 0 && (
        <div className="sheet">
          <span className="head">Not done</span>
          {r.not_done.map((title) => (
            <div key={title}>{title}</div>
          ))}
        </div>
      )}
      {r.overruled.length > 0 && (
        <div className="sheet">
          <span className="head">Overruled</span>
          {r.overruled.map((line, index) => (
            <div key={index}>
              <b>{line.title}</b> {line.text}
            </div>
          ))}
        </div>
      )}
      <div className="cols">
        {(
          [
            ["How to go back", r.back],
            ["Lights to expect", r.lights],
            ["Come again", r.recheck],
            ["Law and warranty", r.law],
          ] as [string, string[]][]
        ).map(([title, lines]) => (
          <div className="sheet" style={{ margin: 0 }} key={title}>
            <span className="head">{title}</span>
            <ul style={{ margin: 0, paddingLeft: 18 }}>
              {lines.map((text) => (
                <li key={text}>{text}</li>
              ))}
            </ul>
          </div>
        ))}
      </div>
    </>
  );
}
