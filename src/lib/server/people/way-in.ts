/** Who has a way into the portal: contacts `c` who can sign in or take up an invitation. @param now the parameter that holds the instant */
export const HAS_WAY_IN = (now: '$2' | '$3') =>
	`(c.password_hash is not null or exists (select from invitation v where v.contact_id = c.id and v.waits and v.expires_at > ${now}))`;
