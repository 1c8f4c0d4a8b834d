// What the office's own mails say.

/** Whose mail it is. */
export interface MailOffice {
  readonly name: string;
  readonly postalAddress: string;
}

/** Each kind with what it has to know. */
export interface MailFacts {
  /** A link to the reader's own page, to the address on record. */
  readonly 'own page': { readonly url: string };
  /** To an address that somebody gave as theirs. */
  readonly 'new address': { readonly url: string };
  /** To the address that letters went to until now; `address` is shown in part. */
  readonly 'address moved': { readonly url: string; readonly address: string };
  /** To a colleague, who chooses a password with it. */
  readonly invitation: { readonly url: string };
  readonly 'new password': { readonly url: string };
  /** To somebody who was erased, and seems to want letters again. */
  readonly 'come back': { readonly url: string };
  /** To a colleague on the morning of the day; `tasks` in words, at most so many, of all there are. */
  readonly 'tasks due': {
    readonly url: string;
    readonly tasks: readonly string[];
    readonly all: number;
  };
}
export type MailKind = keyof MailFacts;

export interface OfficeMail {
  readonly subject: string;
  readonly text: string;
}

const signed = ({ name, postalAddress }: MailOffice, ...paragraphs: readonly string[]): string =>
  [...paragraphs, `${name}\n${postalAddress}`].join('\n\n');

export const officeMails: {
  readonly [K in MailKind]: (facts: MailFacts[K], office: MailOffice) => OfficeMail;
} = {
  'own page': ({ url }, office) => ({
    subject: `Your page at ${office.name}`,
    text: signed(
      office,
      `Somebody, we think you, asked for the page on which you see and change what ${office.name} knows of you, give another address, or come back.`,
      `It is open to you for a day:\n${url}`,
      'If you did not ask, do nothing. Whoever has one of your letters can ask for this page, but only you are sent it.',
    ),
  }),
  'new address': ({ url }, office) => ({
    subject: `Your new address for letters from ${office.name}`,
    text: signed(
      office,
      `Somebody, we think you, asked that letters from ${office.name} go to this address.`,
      `If that is right, open this page and say yes:\n${url}`,
      'If not, do nothing: nothing changes.',
    ),
  }),
  'address moved': ({ url, address }, office) => ({
    subject: 'Our letters go to another address now',
    text: signed(
      office,
      `Letters from ${office.name} that came to you here now go to ${address}. Somebody who had a link from this mailbox, we think you, asked for that.`,
      `If it was not you, take it back within 14 days:\n${url}`,
      'If it was you, do nothing.',
    ),
  }),
  invitation: ({ url }, office) => ({
    subject: `You are invited to the letters of ${office.name}`,
    text: signed(
      office,
      `A colleague at ${office.name} made an account for you, where its letters and the people who get them are looked after.`,
      `Choose a password within seven days, and you are in:\n${url}`,
      'Whoever has this link can sign in as you: don’t pass it on.',
    ),
  }),
  'tasks due': ({ url, tasks, all }, office) => ({
    subject: all === 1 ? 'A task is due' : `${all} tasks are due`,
    text: signed(
      office,
      all === 1 ? 'This is due today:' : 'These are due:',
      [
        ...tasks.map((task) => `- ${task}`),
        ...(all > tasks.length ? [`and ${all - tasks.length} more`] : []),
      ].join('\n'),
      `Your tasks are here:\n${url}`,
    ),
  }),
  'come back': ({ url }, office) => ({
    subject: `Letters from ${office.name} again?`,
    text: signed(
      office,
      `You asked ${office.name} to take out everything it knew of you. Now somebody, we think you, would like letters again.`,
      `If that is you, say so here within three days:\n${url}`,
      'If it was not you, do nothing: nobody writes to you again.',
    ),
  }),
  'new password': ({ url }, office) => ({
    subject: `A new password at ${office.name}`,
    text: signed(
      office,
      `Somebody, we think you or a coordinator, asked for a link with which you choose a new password.`,
      `It works once, and only for a short time:\n${url}`,
      'If it was not you, do nothing: your password stays as it is.',
    ),
  }),
};

export const mailKinds = Object.keys(officeMails) as readonly MailKind[];
