import { Link } from "react-router";

/** Opens the guide where this is told. */
export const Help = ({ chapter, about }: { chapter: string; about: string }) => (
  <Link className="help" to={`/guide/${chapter}`} aria-label={`? Guide: ${about}`}>
    ?
  </Link>
);
