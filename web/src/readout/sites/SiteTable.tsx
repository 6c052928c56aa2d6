import { Box, chakra, Table, Text } from "@chakra-ui/react";
import { useRef } from "react";

import { formatCount, formatDate, formatPercent } from "../../shared/format";
import { Swatch } from "../../shared/Swatch";
import { useGoToSite } from "../../shared/useGoToSite";
import { useRowWindow } from "../../shared/useRowWindow";
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

const ROW_HEIGHT = 29;

/** A row for each site; of thousands those that are seen are drawn. */
export function SiteTable({ rows, marked, others, onMark }: Props) {
  const siteKey = useWork((store) => store.siteKey);
  const goTo = useGoToSite();
  const frame = useRef<HTMLDivElement>(null);
  const drawn = useRowWindow({
    frame,
    count: rows.length,
    height: ROW_HEIGHT,
    keyOf: (i) => rows[i]?.site.id ?? i,
    chosen: siteKey === null ? -1 : rows.findIndex(({ site }) => String(site.id) === siteKey),
  });
  return (
    <Box ref={frame} flex="1" minW="0" overflow="auto" pe="3" onKeyDown={drawn.onKeyDown}>
      <Table.Root
        size="sm"
        aria-label="Training sites"
        aria-rowcount={rows.length + 1}
        stickyHeader
      >
        <Table.Header>
          <Table.Row bg="paper" aria-rowindex={1}>
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
          <Gap height={drawn.before} />
          {drawn.items.map(({ index, key }) => {
            const one = rows[index];
            return (
              one && (
                <Row
                  key={key}
                  index={index}
                  one={one}
                  marked={marked.has(one.site.id)}
                  chosen={siteKey === String(one.site.id)}
                  onMark={(on) => onMark(one.site.id, on)}
                  onGo={() => goTo(one.site)}
                />
              )
            );
          })}
          <Gap height={drawn.after} />
        </Table.Body>
      </Table.Root>
    </Box>
  );
}

/** Stands for the rows that are not drawn. */
function Gap({ height }: { readonly height: number }) {
  return <tr aria-hidden style={{ height }} />;
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
  readonly index: number;
  readonly one: SiteRow;
  readonly marked: boolean;
  readonly chosen: boolean;
  readonly onMark: (on: boolean) => void;
  readonly onGo: () => void;
}

function Row({ index, one, marked, chosen, onMark, onGo }: RowProps) {
  const { site, title, row, judged } = one;
  const cell = { px: "1.5", py: "0.5", borderColor: "line" } as const;
  return (
    <Table.Row
      data-index={index}
      aria-rowindex={index + 2}
      height={`${ROW_HEIGHT}px`}
      bg={chosen ? "coolTint" : "transparent"}
      color={judged ? "ink" : "quiet"}
    >
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
        <Go data-row type="button" aria-pressed={chosen} onClick={onGo} title="Go there">
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
