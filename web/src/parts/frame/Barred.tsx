import { Alert, Button } from "antd";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";

/** What this slat is for is stopped: said before anything else, with the way to where it is put right. */
export function Barred({ barred, here, number }: { barred: Schemas["Early"]; here: string; number: string }) {
  return (
    <Alert
      type="error"
      showIcon
      className="barred"
      title={barred.sentence}
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
