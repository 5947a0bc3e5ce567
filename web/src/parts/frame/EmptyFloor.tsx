import { Button } from "antd";
import { Link } from "react-router";

/** An empty floor: what to do first, and why. */
export function EmptyFloor({ viewer, onOpen }: { viewer: boolean; onOpen: () => void }) {
  if (viewer) return <p className="sheet">No job is open. An installer or the lead opens one.</p>;
  return (
    <div className="cols" style={{ marginBottom: 14 }}>
      <section className="sheet" style={{ margin: 0 }}>
        <h2>1 · Open a job</h2>
        <p className="soft" style={{ margin: "6px 0 10px" }}>
          On whatever stands in the bay: its kind, its name and eight taps are enough. Each step asks for what
          it needs when it needs it, and keeps the answer for the next one.
        </p>
        <Button type="primary" size="large" onClick={onOpen}>
          Open the first job
        </Button>
      </section>
      <section className="sheet" style={{ margin: 0 }}>
        <h2>2 · Bring what you have</h2>
        <p className="soft" style={{ margin: "6px 0 10px" }}>
          Customers, their vehicles, parts and injectors from a file, so that nobody types them again. A dry
          run first; nothing is kept before you have seen it.
        </p>
        <Link to="/shop/lists">
          <Button size="large">Bring a list</Button>
        </Link>
      </section>
      <section className="sheet" style={{ margin: 0 }}>
        <h2>3 · Or try it on made-up jobs</h2>
        <p className="soft" style={{ margin: "6px 0 10px" }}>
          The sample shop&apos;s jobs beside your own floor, marked as practice on every screen; they leave
          without a trace.
        </p>
        <Link to="/shop/house">
          <Button size="large">To practice</Button>
        </Link>
      </section>
    </div>
  );
}
