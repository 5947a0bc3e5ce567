import { Input } from "antd";

interface Props {
  name: string;
  itemKey: string;
  fixed: boolean;
  disabled: boolean;
  onName: (name: string) => void;
  onKey: (key: string) => void;
}

/** Name and key of a thing on the shelf; a key stays once it stands. */
export function KeyFields({ name, itemKey, fixed, disabled, onName, onKey }: Props) {
  return (
    <>
      <label>
        <span className="soft">name</span>
        <Input
          disabled={disabled}
          value={name}
          onChange={(event) => onName(event.target.value)}
          aria-label="name"
        />
      </label>
      <label>
        <span className="soft">key: small letters, digits, hyphens</span>
        <Input
          className="num"
          disabled={disabled || fixed}
          value={itemKey}
          onChange={(event) => onKey(event.target.value)}
          aria-label="key"
        />
      </label>
    </>
  );
}
