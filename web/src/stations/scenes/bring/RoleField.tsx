import { Input } from "@chakra-ui/react";

/** The open vocabulary of band roles; any other small word may be typed. */
const ROLES = [
  "coastal",
  "blue",
  "green",
  "yellow",
  "red",
  "rededge",
  "rededge071",
  "rededge075",
  "rededge078",
  "nir",
  "nir08",
  "nir09",
  "cirrus",
  "swir16",
  "swir22",
  "pan",
  "lwir",
  "lwir11",
  "lwir12",
];

interface Props {
  readonly label: string;
  readonly value: string;
  readonly onRole: (role: string) => void;
}

/** What a band sees. */
export function RoleField({ label, value, onRole }: Props) {
  return (
    <>
      <Input
        size="2xs"
        width="6.8rem"
        bg="card"
        list="band-roles"
        aria-label={label}
        placeholder="what it sees"
        borderColor={value === "" ? "caution" : "line"}
        value={value}
        onChange={(event) => onRole(event.currentTarget.value.trim().toLowerCase())}
      />
      <datalist id="band-roles">
        {ROLES.map((role) => (
          <option key={role} value={role} />
        ))}
      </datalist>
    </>
  );
}
