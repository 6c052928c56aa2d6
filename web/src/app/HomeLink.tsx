import { Link } from "@chakra-ui/react";
import { Link as RouterLink } from "react-router";

/** From a page about something that is not there. */
export function HomeLink() {
  return (
    <Link asChild color="cool" fontWeight="600" mt="3">
      <RouterLink to="/">Open a study that is there</RouterLink>
    </Link>
  );
}
