import { Link } from "@chakra-ui/react";

/** A file to take away. */
export function Download({ href, children }: { readonly href: string; readonly children: string }) {
  return (
    <Link color="cool" fontWeight="600" minH="24px" href={href} download>
      {children}
    </Link>
  );
}
