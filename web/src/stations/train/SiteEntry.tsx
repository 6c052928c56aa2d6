import { Box, chakra, Flex, IconButton, Text } from "@chakra-ui/react";
import { Trash2 } from "lucide-react";

import { useDeleteSite } from "../../api/queries/edits";
import type { Site } from "../../api/types";
import { formatCount, formatDate, formatPercent, plural } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import { useGoToSite } from "../../shared/useGoToSite";
import { useWork } from "../../shared/workStore";
import { MoveSite } from "./MoveSite";
import { SiteWords } from "./SiteWords";

const Go = chakra("button", {
  base: {
    flex: 1,
    minW: 0,
    textAlign: "start",
    cursor: "pointer",
    py: "0.5",
    px: "1",
    minH: "24px",
  },
});

const LEAST_OUTSIDE = 0.01;

interface Props {
  readonly site: Site;
  readonly number: number;
}

export function SiteEntry({ site, number }: Props) {
  const remove = useDeleteSite(useStudyId());
  const siteKey = useWork((store) => store.siteKey);
  const goTo = useGoToSite();
  const chosen = siteKey === String(site.id);
  const left = site.n_covered - site.n_pixels;
  return (
    <Box bg={chosen ? "coolTint" : undefined} borderRadius="3px">
      <Flex align="center">
        <Go data-row type="button" aria-pressed={chosen} onClick={() => goTo(site)}>
          Site {number}
          <chakra.span color="quiet">
            {" "}
            · {plural(site.n_pixels, "pixel")}
            {left > 0 && `, ${formatCount(left)} left out`}
            {site.outside > LEAST_OUTSIDE &&
              `, ${formatPercent(site.outside, 0)} outside the scene`}
            {site.true_on !== null && ` · ${formatDate(site.true_on)} only`}
            {site.set_aside && " · set aside"}
          </chakra.span>
        </Go>
        <MoveSite site={site} />
        <IconButton
          size="2xs"
          variant="ghost"
          color="quiet"
          aria-label={`Delete site ${number}`}
          title="Delete this site (Delete)"
          onClick={() => remove.mutate(site.id)}
        >
          <Trash2 />
        </IconButton>
      </Flex>
      {site.problem !== null && (
        <Text color="caution" px="1" pb="1">
          {site.problem}
        </Text>
      )}
      {site.elsewhen && (
        <Text color="quiet" px="1" pb="1">
          It takes no part: this scene is of another date.
        </Text>
      )}
      {chosen && <SiteWords site={site} number={number} />}
    </Box>
  );
}
