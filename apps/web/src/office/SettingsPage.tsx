// The office's settings, its accounts, and one's own password.
import {
  Button,
  ColorInput,
  NativeSelect,
  PasswordInput,
  Select,
  Switch,
  Textarea,
  TextInput,
} from '@mantine/core';
import { roles, type Role } from '@palabra/core/office';
import { useState } from 'react';
import { useForm } from '../ui/form';
import { Page } from '../ui/Page';
import { Note } from '../ui/states';
import {
  useAccountsQuery,
  useAddAccountMutation,
  useChangeOfficeMutation,
  useChangePasswordMutation,
} from './office.api';
import { useMay, useOffice } from './OfficeContext';
import { TopicsPart } from './TopicsPart';
import { timeZones } from './SetUpPage';

export function SettingsPage() {
  const may = useMay('settings');
  return (
    <Page title="Settings">
      <section className="sheet-part">
        <h2>Office</h2>
        {may ? (
          <OfficeForm />
        ) : (
          <p className="soft">A coordinator changes the office’s settings.</p>
        )}
      </section>
      <section className="sheet-part">
        <h2>Topics</h2>
        <TopicsPart may={may} />
      </section>
      <section className="sheet-part">
        <h2>Accounts</h2>
        <Accounts may={may} />
      </section>
      <section className="sheet-part">
        <h2>Password</h2>
        <PasswordForm />
      </section>
    </Page>
  );
}

const LIMITS = [
  { value: '0', label: 'never hold back' },
  ...[2, 3, 4, 5, 8, 12].map((number) => ({ value: String(number), label: `${number} in a row` })),
];

const languageNames = new Intl.DisplayNames('en', { type: 'language' });
const LANGUAGES = [
  'ar',
  'bg',
  'bn',
  'bs',
  'ca',
  'cs',
  'cy',
  'da',
  'de',
  'el',
  'en',
  'en-GB',
  'en-US',
  'es',
  'et',
  'eu',
  'fa',
  'fi',
  'fr',
  'ga',
  'gl',
  'he',
  'hi',
  'hr',
  'hu',
  'id',
  'is',
  'it',
  'ja',
  'ka',
  'ko',
  'lb',
  'lt',
  'lv',
  'mk',
  'mt',
  'nb',
  'nl',
  'nn',
  'pl',
  'pt',
  'pt-BR',
  'ro',
  'ru',
  'sk',
  'sl',
  'sq',
  'sr',
  'sv',
  'th',
  'tr',
  'uk',
  'ur',
  'vi',
  'zh-Hans',
  'zh-Hant',
]
  .map((value) => ({ value, label: languageNames.of(value) ?? value }))
  .sort((a, b) => a.label.localeCompare(b.label));

function OfficeForm() {
  const { office } = useOffice();
  const [change] = useChangeOfficeMutation();
  const [mailUnknown, setMailUnknown] = useState(office.mailUnknown);
  const [hiddenLink, setHiddenLink] = useState(office.hiddenLink);
  const [done, setDone] = useState(false);
  const form = useForm(
    {
      name: office.name,
      postalAddress: office.postalAddress,
      timeZone: office.timeZone,
      senderName: office.senderName,
      senderAddress: office.senderAddress,
      colour: office.colour,
      softBounceLimit: String(office.softBounceLimit),
      unreadBounceLimit: String(office.unreadBounceLimit),
      language: office.language,
    },
    async (values) => {
      setDone(false);
      await change({
        version: office.version,
        mailUnknown,
        hiddenLink,
        ...values,
        softBounceLimit: Number(values.softBounceLimit),
        unreadBounceLimit: Number(values.unreadBounceLimit),
      }).unwrap();
      setDone(true);
    },
  );
  const zone = form.field('timeZone');
  const language = form.field('language');
  return (
    <form onSubmit={form.submit} noValidate style={{ maxWidth: 460 }}>
      <TextInput label="Name" {...form.field('name')} />
      <Textarea
        mt="sm"
        label="Postal address"
        description="Stands in the footer of every letter."
        autosize
        minRows={3}
        {...form.field('postalAddress')}
      />
      <Select
        mt="sm"
        label="Time zone"
        searchable
        data={timeZones()}
        value={zone.value}
        error={zone.error}
        onChange={(value) => form.set('timeZone', value ?? '')}
      />
      <Select
        mt="sm"
        label="Language of your letters"
        description="Screen readers and translators go by it."
        searchable
        data={LANGUAGES}
        value={language.value}
        error={language.error}
        onChange={(value) => form.set('language', value ?? 'en')}
      />
      <TextInput
        mt="sm"
        label="Sender’s name"
        description="For new campaigns."
        {...form.field('senderName')}
      />
      <TextInput mt="sm" label="Sender’s address" type="email" {...form.field('senderAddress')} />
      <Switch
        mt="md"
        label="Mail people whose permission is unknown"
        description="Off is the safe side: they are held back from every campaign."
        checked={mailUnknown}
        onChange={(event) => setMailUnknown(event.currentTarget.checked)}
      />
      <NativeSelect
        mt="md"
        label="Soft bounces"
        description="Letters that come back for now. After so many in a row a person is held back until somebody tries again."
        data={LIMITS}
        {...form.field('softBounceLimit')}
      />
      <NativeSelect
        mt="md"
        label="Refusals nobody could read"
        description="Letters refused for good without a reason that could be read. After so many in a row a person is held back until somebody tries again."
        data={LIMITS}
        {...form.field('unreadBounceLimit')}
      />
      <Switch
        mt="md"
        label="Put a link into letters that no person can see"
        description="Who follows it is a machine. It tells scanners that nothing else gives away, but some mail servers dislike such links."
        checked={hiddenLink}
        onChange={(event) => setHiddenLink(event.currentTarget.checked)}
      />
      <ColorInput
        mt="md"
        label="Colour of the pages that readers see"
        description="Where they leave, choose topics and correct their data."
        placeholder="the application’s own"
        format="hex"
        withEyeDropper={false}
        value={form.values.colour}
        error={form.field('colour').error}
        onChange={(value) => form.set('colour', value)}
      />
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Button mt="md" type="submit" loading={form.busy}>
        Keep these settings
      </Button>
      {done && (
        <span className="good" role="status" style={{ marginLeft: 12 }}>
          Kept.
        </span>
      )}
    </form>
  );
}

function Accounts({ may }: { readonly may: boolean }) {
  const accounts = useAccountsQuery();
  const [add] = useAddAccountMutation();
  const [adding, setAdding] = useState(false);
  const form = useForm({ name: '', address: '', role: 'member', password: '' }, async (values) => {
    await add({ ...values, role: values.role as Role }).unwrap();
    setAdding(false);
  });
  return (
    <div style={{ maxWidth: 620 }}>
      <ul className="rows" style={{ marginTop: -8 }}>
        {accounts.data?.map(({ id, name, address, role }) => (
          <li key={id}>
            <span className="what">
              <b>{name}</b> <span className="soft">{address}</span>
            </span>
            <span className="end">{role}</span>
          </li>
        ))}
      </ul>
      {may && !adding && (
        <button type="button" className="act" onClick={() => setAdding(true)}>
          + account
        </button>
      )}
      {adding && (
        <form onSubmit={form.submit} noValidate style={{ maxWidth: 460 }}>
          <TextInput label="Name" autoFocus {...form.field('name')} />
          <TextInput mt="sm" label="Email address" type="email" {...form.field('address')} />
          <Select
            mt="sm"
            label="Role"
            description="Coordinators do everything. Managers read. Members see and change their own people."
            allowDeselect={false}
            data={[...roles]}
            value={form.values.role}
            onChange={(value) => form.set('role', value ?? 'member')}
          />
          <PasswordInput
            mt="sm"
            label="First password"
            autoComplete="new-password"
            {...form.field('password')}
          />
          {form.general && <Note kind="wrong">{form.general}</Note>}
          <Button mt="md" type="submit" loading={form.busy}>
            Add this account
          </Button>{' '}
          <Button mt="md" variant="subtle" color="gray" onClick={() => setAdding(false)}>
            Not now
          </Button>
        </form>
      )}
    </div>
  );
}

function PasswordForm() {
  const [change] = useChangePasswordMutation();
  const [done, setDone] = useState(false);
  const form = useForm({ current: '', next: '' }, async (values, set) => {
    setDone(false);
    await change(values).unwrap();
    set('current', '');
    set('next', '');
    setDone(true);
  });
  return (
    <form onSubmit={form.submit} noValidate style={{ maxWidth: 460 }}>
      <PasswordInput
        label="The present one"
        autoComplete="current-password"
        {...form.field('current')}
      />
      <PasswordInput
        mt="sm"
        label="The new one"
        description="At least ten signs."
        autoComplete="new-password"
        {...form.field('next')}
      />
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Button mt="md" variant="default" type="submit" loading={form.busy}>
        Change it
      </Button>
      {done && (
        <span className="good" role="status" style={{ marginLeft: 12 }}>
          Changed. Other sessions were ended.
        </span>
      )}
    </form>
  );
}
