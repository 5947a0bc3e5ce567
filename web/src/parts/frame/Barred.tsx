import { Alert, Button } from "antd";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";

/** What this slat is for is stopped: said before anything else, with the way to where each stop is put right. */
export function Barred({ barred, here, number }: Props) {
  const every = barred.every ?? [];
  return (
    <Alert
      type="error"
      showIcon
      className="barred"
      title={barred.sentence}
      description={
        every.length > 0 && (
          <ul aria-label="All that stands in the way">
            {every.map((stop, place) => (
              <li key={place}>
                {stop.stage === here ? (
                  stop.title
                ) : (
                  <Link to={`/jobs/${number}/${stop.stage}`}>{stop.title}</Link>
                )}
              </li>
            ))}
          </ul>
        )
      }
      action={
        barred.stage !== here && (
          <Link to={`/jobs/${number}/${barred.stage}`}>
            <Button size="large">Go there</Button>
          </Link>
        )
      }
    />
  );
}

type Props = { barred: Schemas["BarredOut"]; here: string; number: string };
