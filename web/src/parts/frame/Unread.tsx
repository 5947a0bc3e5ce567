import { Alert, Button } from "antd";
import { useUnread } from "../../api/unread";

/** What of this screen could not be read: said, so that an empty card is never taken for an empty answer. */
export function Unread() {
  const found = useUnread();
  return found.map((one) => (
    <Alert
      key={one.sentence}
      type="warning"
      className="unread"
      title={one.sentence}
      action={<Button onClick={one.again}>Try again</Button>}
    />
  ));
}
