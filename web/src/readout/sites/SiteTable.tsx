import { chakra, Table, Text } from "@chakra-ui/react";
import { useEffect, useRef } from "react";

import { formatCount, formatDate, formatPercent } from "../../shared/format";
import { Swatch } from "../../shared/Swatch";
import { useGoToSite } from "../../shared/useGoToSite";
import { useWork } from "../../shared/workStore";
import type { SiteRow } from "./rows";

interface Props {
  readonly rows: readonly SiteRow[];
  readonly marked: ReadonlySet<number>;
  /** Titles of the scenes that are compared. */
  readonly others: readonly string[];
  readonly onMark: (id: number, on: boolean) => void;
}

const Go = chakra("button", {
  base: {
    display: "inline-flex",
    alignItems: "center",
    gap: "2",
    cursor: "pointer",
    minH: "24px",
    _hover: { textDecoration: "underline" },
  },
});

const HEADS: readonly (readonly [head: string, help: string, end: boolean])[] = [
  ["Pixels", "Usable pixels", true],
  ["Spread", "Standard deviation over that of its class; 1 is as wide as the class", true],
  ["Oddness", "How far its pixels are from what is usual in its class; 1 is the limit", true],
  ["Looks like", "The other class that its pixels look like, and the share of them", false],
];

/** A row for each site. */
export function SiteTable({ rows, marked, others, onMark }: Props) {
  const siteKey = useWork((store) => store.siteKey);
  const goTo = useGoToSite();
  return (
    <Table.Root size="sm" aria-label="Training sites" stickyHeader>
      <Table.Header>
        <Table.Row bg="paper">
          <Head end={false} help="">
            Site
          </Head>
          {HEADS.map(([head, help, end]) => (
            <Head key={help} help={help} end={end}>
              {head}
            </Head>
          ))}
          {others.map((title, i) => (
            <Head
              key={`${i} ${title}`}
              help="What became of it in this scene, and its oddness there"
              end={false}
              wraps
            >
              On {title}
            </Head>
          ))}
          <Head help="Notes, and what keeps it from training" end={false}>
            {""}
          </Head>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {rows.map((one) => (
          <Row
            key={one.site.id}
            one={one}
            marked={marked.has(one.site.id)}
            chosen={siteKey === String(one.site.id)}
            onMark={(on) => onMark(one.site.id, on)}
            onGo={() => goTo(one.site)}
          />
        ))}
      </Table.Body>
    </Table.Root>
  );
}

interface HeadProps {
  readonly help: string;
  readonly end: boolean;
  readonly wraps?: boolean;
  readonly children: React.ReactNode;
}

function Head({ help, end, wraps = false, children }: HeadProps) {
  return (
    <Table.ColumnHeader
      px="1.5"
      py="1"
      color="quiet"
      textAlign={end ? "end" : "start"}
      title={help}
      whiteSpace={wraps ? "normal" : "nowrap"}
    >
      {children}
    </Table.ColumnHeader>
  );
}

interface RowProps {
  readonly one: SiteRow;
  readonly marked: boolean;
  readonly chosen: boolean;
  readonly onMark: (on: boolean) => void;
  readonly onGo: () => void;
}

function Row({ one, marked, chosen, onMark, onGo }: RowProps) {
  const { site, title, row, judged } = one;
  const line = useRef<HTMLTableRowElement>(null);
  useEffect(() => {
    if (chosen) line.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const cell = { px: "1.5", py: "0.5", borderColor: "line" } as const;
  return (
    <Table.Row ref={line} bg={chosen ? "coolTint" : "transparent"} color={judged ? "ink" : "quiet"}>
      <Table.Cell {...cell} whiteSpace="nowrap">
        <chakra.input
          type="checkbox"
          me="2"
          width="15px"
          height="15px"
          verticalAlign="middle"
          aria-label={`Mark ${title}`}
          checked={marked}
          onChange={(event) => onMark(event.currentTarget.checked)}
        />
        <Go type="button" aria-pressed={chosen} onClick={onGo} title="Go there">
          <Swatch colour={row.colour} /> {title}
        </Go>
      </Table.Cell>
      <Table.Cell {...cell} textAlign="end">
        {formatCount(site.n_pixels)}
      </Table.Cell>
      <Table.Cell {...cell} textAlign="end">
        {judged?.spread?.toFixed(2) ?? "–"}
      </Table.Cell>
      <Table.Cell {...cell} textAlign="end">
        <Oddness value={judged?.oddness ?? null} />
      </Table.Cell>
      <Table.Cell {...cell} whiteSpace="nowrap">
        {likeWords(one)}
      </Table.Cell>
      {one.there.map(({ words, changed }, i) => (
        <Table.Cell key={i} {...cell} whiteSpace="nowrap" color={changed ? "caution" : undefined}>
          {words}
        </Table.Cell>
      ))}
      <Table.Cell {...cell} maxW="0" minW="4rem" width={one.there.length > 0 ? "auto" : "40%"}>
        <Text truncate title={remarkOf(one)}>
          {remarkOf(one)}
        </Text>
      </Table.Cell>
    </Table.Row>
  );
}

function Oddness({ value }: { readonly value: number | null }) {
  if (value === null) return "–";
  if (value <= 1) return value.toFixed(2);
  return (
    <chakra.span color="caution" fontWeight="650">
      {value.toFixed(2)}
    </chakra.span>
  );
}

function likeWords({ like, likeShare }: SiteRow): string {
  return likeShare > 0 ? `${like}, ${formatPercent(likeShare, 0)}` : "";
}

/** What keeps a site from training, and what was said of it. */
function remarkOf({ site }: SiteRow): string {
  const said = [
    site.problem,
    site.elsewhen && site.true_on !== null && `true on ${formatDate(site.true_on)} only`,
    site.set_aside && "set aside: it never trains",
    site.trusted && "vouched for",
    site.note,
  ];
  return said.filter(Boolean).join(" · ");
}
