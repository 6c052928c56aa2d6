import { useDoubts } from "../../../api/queries/vocabulary";
import { Remark } from "../../../shared/Remark";
import { useDebounced } from "../../../shared/useDebounced";
import type { Draft } from "./draft";
import { strangeRoles, type Vocabulary, withRole } from "./roles";
import { StrangeRole } from "./StrangeRole";

const PAUSE_MS = 600;

interface Props {
  readonly deliveryId: number;
  readonly draft: Draft;
  readonly known: Vocabulary;
  readonly onDraft: (draft: Draft) => void;
}

/** Roles that nobody knows, and numbers that contradict the roles that were given. */
export function RoleQuestions({ deliveryId, draft, known, onDraft }: Props) {
  const { proposal, order, ownRoles } = draft;
  const given = useDebounced(rolesByPosition(draft), PAUSE_MS);
  const { data: doubts = [] } = useDoubts(deliveryId, proposal.position, given, given !== "");
  const rename = (from: string, to: string) => {
    const bands = order.bands.map((b) => (b.role === from ? withRole(b, to, known) : b));
    onDraft({ ...draft, order: { ...order, bands } });
  };
  return (
    <>
      {strangeRoles(order.bands, known, ownRoles).map((role) => (
        <StrangeRole
          key={role}
          role={role}
          known={known}
          onMeant={(meant) => rename(role, meant)}
          onOwn={() => onDraft({ ...draft, ownRoles: [...ownRoles, role] })}
        />
      ))}
      {doubts.map((doubt) => (
        <Remark key={doubt} tone="caution">
          {doubt}
        </Remark>
      ))}
    </>
  );
}

/** As the server numbers the bands; empty for one that is not used. */
function rolesByPosition({ proposal, order }: Draft): string {
  const used = new Map(order.bands.filter((b) => b.used).map((b) => [b.position, b.role]));
  return proposal.bands.map((band) => used.get(band.position) ?? "").join(",");
}
