// The words of the demo world: a made-up botanical garden and made-up people around it.

export const office = {
  name: 'Quillwater Garden',
  postalAddress: 'Quillwater Garden, Membership Office\n3 Orchard Walk\nQuillwater QW1 2GH',
  timeZone: 'Europe/Lisbon',
  country: 'GB',
  senderName: 'Quillwater Garden',
  senderAddress: 'letters@quillwater.test',
};

export const people = [
  { name: 'Ines Marlow', address: 'coordinator@quillwater.test', role: 'coordinator' },
  { name: 'Tobias Renn', address: 'manager@quillwater.test', role: 'manager' },
  { name: 'Aurelie Finch', address: 'member@quillwater.test', role: 'member' },
  { name: 'Jonah Petrov', address: 'schools@quillwater.test', role: 'member' },
  { name: 'Mireille Osei', address: 'donors@quillwater.test', role: 'member' },
  { name: 'Kasimir Lund', address: 'volunteers@quillwater.test', role: 'member' },
] as const;

export const password = 'quillwater';

export const given = (
  'Abel Adaeze Alba Alder Amara Anatol Anouk Ansel Apolline Arlo Astrid Aurel Basil Beatrix Benno Bruna Caius Calixta Camille Cedric Celeste Clio Corin Cosima Dagny Dario Delphine Dimitri ' +
  'Edda Eirik Elowen Emeline Emil Enid Esme Evander Fabian Farah Felix Fenna Fleur Florian Freya Gideon Greta Gwendolen Hana Hector Helmi Hollis Ida Idris Ilse Imogen Ines Ion Iris Isolde Ivo ' +
  'Jarek Jasper Jocasta Juno Kaia Kalle Kenji Klara Laszlo Leda Leocadia Leopold Lina Linnea Lorcan Ludo Maeve Malin Marcel Maribel Marin Matilda Mika Milo Mirela Nadia Nell Nico Noor Odalys Odile Olave ' +
  'Orla Oscar Osric Ottoline Pascal Pavel Perpetua Petra Phaedra Quentin Rafe Ramona Remy Rhea Roald Rosalind Rufus Sabine Sefa Selma Silas Sorrel Stellan Svea Tamsin Teodor Thea Tilda Tomas Ulla Ursel Vadim Vesna Viola Wanda Wilf Wren Xanthe Yara Yusuf Zelda Zoran'
).split(' ');

export const family = (
  'Abelard Acland Alder Amory Ashcombe Ashgrove Ashlin Averill Bannock Barrow Basham Bashir Beckwith Bellamy Birch Blackthorn Bracken Brightwell Brockway Burnell Cardew Carroway Cash Castellan Chandler Clearwater Clover Cobham Coppice Crane Crashaw ' +
  'Dashwell Delacourt Denholm Dovecote Drummond Dunmore Eastlake Elder Ellery Everly Fairweather Farrow Fenwick Fernsby Firth Flint Foxley Galloway Gannet Garrick Glasse Goldfinch Greenaway Grove Hadley Halloway Hartwell Hawthorne Hazel Heron Hollin Hythe ' +
  'Ibbot Ingram Ivory Jarrow Juniper Kestrel Kingsley Kirkbride Lacewing Langley Larkin Leland Lockwood Loxley Maddox Marchbank Marlowe Meadows Merriweather Millbrook Moorland Mossman Nash Nettleton Nightingale Norbury Oakes Oakhurst Orchard Osprey Overton ' +
  'Padgett Partridge Peverell Pike Plover Prashad Prentice Quarry Quill Radley Ravenscroft Redfern Reed Ridley Rook Rowan Rushworth Saltmarsh Sedgwick Shaw Sorley Sparrow Starling Stonecrop Swift Tarn Teasel Thistlewood Thorne Tilling Underhill Vane Verity Vickers Wakefield Warbler Washburn Waverley Weir Whitlock Willoughby Windmere Wolstan Woodruff Wyndash Yarrow Yashin Yates'
).split(' ');

export const surnamesFromElsewhere = [
  'Núñez',
  'Łukasik',
  'Ødegaard',
  'Çelik',
  'Đorđević',
  'Müllender',
  'Ångström',
  'O’Dwyer',
  'van der Mere',
  'Šimek',
  'Þorvald',
  'Pérez-Luna',
];

/** Towns around the garden, with invented positions in degrees. */
export const towns = [
  { name: 'Quillwater', region: 'Tarnshire', postcode: 'QW1', lat: 38.72, lon: -9.14, weight: 24 },
  { name: 'Millrace', region: 'Tarnshire', postcode: 'QW4', lat: 38.81, lon: -9.1, weight: 14 },
  { name: 'Lower Ashby', region: 'Tarnshire', postcode: 'QW6', lat: 38.68, lon: -9.2, weight: 11 },
  { name: 'Ashwick', region: 'Tarnshire', postcode: 'QW7', lat: 38.66, lon: -9.05, weight: 10 },
  { name: 'East Tarn', region: 'Tarnshire', postcode: 'QW9', lat: 38.75, lon: -8.93, weight: 9 },
  { name: 'North Fell', region: 'Fellmark', postcode: 'FM2', lat: 38.97, lon: -9.17, weight: 9 },
  { name: 'Harrowmere', region: 'Fellmark', postcode: 'FM5', lat: 39.06, lon: -9.02, weight: 6 },
  { name: 'Saltcote', region: 'Coastland', postcode: 'CL1', lat: 38.53, lon: -9.33, weight: 6 },
  { name: 'Pellbridge', region: 'Coastland', postcode: 'CL3', lat: 38.45, lon: -9.11, weight: 5 },
  { name: 'Wintercross', region: 'Fellmark', postcode: 'FM8', lat: 39.21, lon: -8.87, weight: 3 },
  {
    name: 'Great Osier',
    region: 'Vale of Osier',
    postcode: 'VO1',
    lat: 38.3,
    lon: -8.6,
    weight: 2,
  },
  {
    name: 'Thistledown',
    region: 'Vale of Osier',
    postcode: 'VO4',
    lat: 38.1,
    lon: -8.4,
    weight: 1,
  },
] as const;

export const domains = [
  'example.com',
  'example.com',
  'example.org',
  'example.net',
  'postbox.test',
  'harbourmail.test',
  'lanternpost.test',
];

export const tags = [
  { name: 'plant sale guest', colour: 'moss', share: 0.28, purpose: 'Bought at a sale' },
  { name: 'family', colour: 'iris', share: 0.2, purpose: 'Comes with children' },
  { name: 'donor', colour: 'lagoon', share: 0.09, purpose: 'Gave at least once' },
  { name: 'school', colour: 'ochre', share: 0.05, purpose: 'Books for a class' },
  { name: 'volunteer', colour: 'clay', share: 0.04, purpose: 'Helps in the garden' },
  {
    name: 'workshop list',
    colour: 'plum',
    share: 0.15,
    purpose: 'Wants to hear of workshops first',
  },
  { name: 'press', colour: 'slate', share: 0.006, purpose: 'Writes about us' },
  { name: 'glasshouse friend', colour: 'sky', share: 0.07, purpose: 'Gave for the roof' },
] as const;

/** Came with somebody’s list, beside the one that there was. */
export const strayTag = { name: 'workshops list', colour: 'plum', every: 263 } as const;

export const stages = ['visitor', 'member', 'lapsed member', 'donor', 'school booker'] as const;
export const likes = [
  'alpines',
  'apple trees',
  'herbs',
  'roses',
  'ferns',
  'water plants',
  'mosses',
  'wild bees',
  'old vegetables',
  'winter walks',
];
export const memberships = ['single', 'family', 'patron', 'student'];
/** What people agreed to, as it stood on the card or the page. */
export const wordings = [
  'Yes, send me the garden letter. I can leave it at any time.',
  'Please write to me by email about events, members’ offers and the plant sale.',
  'I would like to hear from Quillwater Garden about once a month.',
] as const;

export const sources = [
  'sign-up form on the web site',
  'ticket desk',
  'membership form',
  'plant sale, at the till',
  'workshop booking',
];

export const monthNews = [
  {
    month: 0,
    title: 'The garden in January',
    lead: 'Frost on the seed heads, and the snowdrops are three weeks early.',
  },
  {
    month: 1,
    title: 'The garden in February',
    lead: 'The witch hazels are out, and the grafting day has eleven places left.',
  },
  {
    month: 2,
    title: 'The garden in March',
    lead: 'We open the cold frames; members come in an hour before everybody else.',
  },
  {
    month: 3,
    title: 'The garden in April',
    lead: 'Fritillaries in the water meadow, and seed potatoes at the gate.',
  },
  {
    month: 4,
    title: 'The garden in May',
    lead: 'The rose walk is a week from its best. Come in the evening.',
  },
  {
    month: 5,
    title: 'The garden in June',
    lead: 'Long evenings, open late on Thursdays, and the bees have moved house.',
  },
  {
    month: 6,
    title: 'The garden in July',
    lead: 'A shady route through the fernery for hot days.',
  },
  {
    month: 7,
    title: 'The garden in August',
    lead: 'The old vegetables are ready, and so is the soup kitchen.',
  },
  {
    month: 8,
    title: 'The garden in September',
    lead: 'Apple week: bring your own, we will tell you its name.',
  },
  {
    month: 9,
    title: 'The garden in October',
    lead: 'Bulbs to plant, leaves to rake, and a fire to sit by.',
  },
  {
    month: 10,
    title: 'The garden in November',
    lead: 'The glasshouse is the warmest place in town.',
  },
  {
    month: 11,
    title: 'The garden in December',
    lead: 'The winter walk is lit until nine, and the shop has wreaths.',
  },
];

export const promotions = [
  {
    title: 'Plant sale, first call',
    lead: 'On Saturday we open the cold frames. Bring a crate and a thermos.',
    tag: 'plant sale guest',
    button: 'Keep a crate for me',
  },
  {
    title: 'Workshops of the season',
    lead: 'Grafting, basket weaving, natural dyes: all dates and free places.',
    tag: 'workshop list',
    button: 'See the dates',
  },
  {
    title: 'The glasshouse roof',
    lead: 'A pane costs forty, and there are four hundred of them.',
    tag: 'glasshouse friend',
    button: 'Give a pane',
  },
  {
    title: 'Winter walk for families',
    lead: 'Lanterns, a fire and a story in the fernery.',
    tag: 'family',
    button: 'Book a lantern',
  },
];

export const topics = [
  {
    name: 'Newsletter',
    description: 'Once a month: what is in flower, and the dates of the next weeks.',
  },
  {
    name: 'Plant sales and offers',
    description: 'First call for plant sales, and what the shop has.',
  },
  { name: 'Workshops and events', description: 'Dates and free places, about six letters a year.' },
] as const;

/** Mail that came back and waits for somebody: no letter of ours shows in it for certain. */
export const returned = [
  {
    kind: 'bounce',
    bounce: 'hard',
    sender: 'MAILER-DAEMON@mx.harbourmail.test',
    subject: 'failure notice',
    excerpt:
      'Sorry, this did not work out.\n\n<{address}>:\n550 5.1.1 no mailbox here by that name',
    diagnosis: '550 5.1.1 no mailbox here by that name',
    evidence: 'address',
  },
  {
    kind: 'reply',
    bounce: null,
    sender: '{address}',
    subject: 'Re: The garden in bloom',
    excerpt: 'Thank you for the dates! Could you keep two places in the basket weaving for us?',
    diagnosis: null,
    evidence: 'headers',
  },
  {
    kind: 'unread',
    bounce: null,
    sender: 'postroom@lanternpost.test',
    subject: 'Your message',
    excerpt: 'We regret that your message of last Thursday needs attention.\nReference 4711.',
    diagnosis: null,
    evidence: null,
  },
] as const;

export const notes = [
  'Comes with a wheelchair: keep a place by the door.',
  'Would rather be called in the evening.',
  'Gave the bench by the pond.\nAsk before it is moved.',
  'Knows more about mosses than anybody here.',
  'Has a key to the lower gate.',
];
