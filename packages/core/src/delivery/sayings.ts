// How mail servers and people say a thing in their own words, by language. Every expression looks at most 40 signs ahead.

export const languages = ['en', 'de', 'fr', 'es', 'it', 'nl', 'pt', 'pl', 'sv', 'da', 'fi', 'cs'] as const;
export type Language = (typeof languages)[number];

interface Sayings {
  /** The address is dead. */
  readonly dead: RegExp;
  /** The mailbox is full. */
  readonly full: RegExp;
  /** Not delivered yet, tried again. */
  readonly later: RegExp;
  /** The subject of a notice that something did not arrive. */
  readonly failed: RegExp;
  /** The subject of an automatic answer. */
  readonly away: RegExp;
}

const sayings: Readonly<Record<Language, Sayings>> = {
  en: {
    dead: /\b(user|mailbox|recipient|address|account|addressee)\b.{0,40}\b(unknown|not found|(does(n't|n’t| not)|did(n't|n’t| not)) exist|not exist|no longer (exist|valid|in use|active|available|here|accept)|invalid|disabled|deactivated|inactive|closed|not known|not (a )?valid|unrouteable|not in (our )?directory)|\bno (such|valid) (user|mailbox|person|recipient|address|account)|\b(unknown|invalid|unrouteable|inactive|non-?existent) (local )?(user|recipient|mailbox|address|account)|\bno (mailbox|account|user) (here )?(by|with|of) (that|this) name|\bdoes(n't|n’t| not) have an? .{0,20}\baccount\b/i,
    full: /\b(mailbox|inbox|quota|storage|mail folder)\b.{0,40}\b(full|exceed(ed|s)|over|limit)|\bover ?quota|\bout of storage|\b(exceed(ed|s)|insufficient|not enough) .{0,20}\b(quota|storage|space|mailbox)\b/i,
    later: /\b(delayed|has not (yet )?been delivered|will (be retried|keep trying|continue to try|be tried again)|still being retried|warning: message|still trying)/i,
    failed: /\b(undeliver(ed|able)|deliver(y|ing).{0,30}\b(fail(ed|ure)|problem|impossible)|fail(ed|ure).{0,20}\b(deliver|notice)|returned (to sender|mail)|mail (could not|was not) (be )?deliver|non[- ]?deliver|delivery status notification)/i,
    away: /\b(out of (the )?office|automatic (reply|answer|response)|auto(matic|mated)?[- ]?(reply|responder|response)|on (annual |parental |maternity )?(leave|vacation|holiday)|away from (the |my )?(office|desk)|vacation (reply|message|response))/i,
  },
  de: {
    dead: /(empfänger|empfaenger|adresse|postfach|benutzer|nutzer|konto).{0,40}(unbekannt|existiert nicht|nicht gefunden|ungültig|ungueltig|nicht vorhanden|deaktiviert|nicht mehr (gültig|vorhanden|verfügbar|aktiv|erreichbar|hier))|unbekannte[rn]? (empfänger|empfaenger|benutzer|adresse)/i,
    full: /(postfach|speicher|kontingent|quota).{0,40}(voll|überschritten|ueberschritten|erschöpft|überfüllt)/i,
    later: /verzögert|verzoegert|noch nicht zugestellt|weitere zustellversuche/i,
    failed: /unzustellbar|nicht zugestellt|zustellung.{0,20}(fehlgeschlagen|nicht möglich)/i,
    away: /abwesen(d|heit)|automatische antwort|nicht im (büro|haus)|im urlaub/i,
  },
  fr: {
    dead: /(utilisateur|destinataire|adresse|boîte|boite|compte).{0,40}(inconnu|n['’]existe (pas|plus)|introuvable|invalide|désactivé)/i,
    full: /(boîte|boite|quota|messagerie).{0,40}(pleine?|saturée?|dépassée?|depasse)/i,
    later: /retardée?|pas encore été (remis|distribué)/i,
    failed: /non (remis|distribué|délivré)|échec de (la )?(remise|distribution|livraison)/i,
    away: /absence|absente? du bureau|réponse automatique|en congés?/i,
  },
  es: {
    dead: /(usuario|destinatario|dirección|direccion|buzón|buzon|cuenta).{0,40}(desconocid[oa]|no existe|no encontrad[oa]|inválid[oa]|invalid[oa]|inexistente)/i,
    full: /(buzón|buzon|cuota|espacio).{0,40}(llen[oa]|excedid[oa]|superad[oa]|agotad[oa])/i,
    later: /retrasad[oa]|todavía no se ha entregado|se seguirá intentando/i,
    failed: /no entregado|no se (pudo|ha podido) entregar|devuelto al remitente/i,
    away: /fuera de la oficina|respuesta automática|ausente|de vacaciones/i,
  },
  it: {
    dead: /(utente|destinatario|indirizzo|casella|account).{0,40}(sconosciut[oa]|inesistente|non esiste|non trovat[oa]|non valid[oa]|disattivat[oa])/i,
    full: /(casella|quota|spazio).{0,40}(pien[oa]|superat[oa]|esaurit[oa])/i,
    later: /ritardo nella consegna|non ancora (consegnat|recapitat)[oa]/i,
    failed: /mancat[ao] (recapito|consegna)|non (recapitabile|consegnat[oa])/i,
    away: /fuori (sede|ufficio)|risposta automatica|assenza|in ferie/i,
  },
  nl: {
    dead: /(gebruiker|ontvanger|adres|postbus|postvak|account).{0,40}(onbekend|bestaat niet|niet gevonden|ongeldig)|onbekende (gebruiker|ontvanger)/i,
    full: /(postvak|postbus|mailbox|quotum).{0,40}(vol\b|overschreden)/i,
    later: /vertraagd|nog niet bezorgd/i,
    failed: /onbestelbaar|niet bezorgd|niet afgeleverd/i,
    away: /afwezig|automatisch(e)? antwoord|met vakantie/i,
  },
  pt: {
    dead: /(usuário|usuario|utilizador|destinatário|destinatario|endereço|endereco|caixa|conta).{0,40}(desconhecid[oa]|não existe|nao existe|inexistente|inválid[oa]|não encontrad[oa])/i,
    full: /(caixa|cota|quota|espaço).{0,40}(chei[oa]|excedid[oa]|esgotad[oa])/i,
    later: /atrasad[oa]|ainda não foi entregue/i,
    failed: /não entregue|falha na entrega|não foi possível entregar/i,
    away: /fora do escritório|resposta automática|ausência|ausente|de férias/i,
  },
  pl: {
    dead: /(użytkownik|adresat|odbiorca|adres|skrzynka|konto).{0,40}(nieznan[ya]|nie istnieje|nie znalezion[oay]|nieprawidłow[ya])/i,
    full: /(skrzynka|limit|pojemność).{0,40}(pełna|przekroczon[yao]|przepełnion[ya]|zapełnion[ya])/i,
    later: /opóźnion[ya]|jeszcze nie (została )?dostarczon/i,
    failed: /niedostarczon|nie dostarczono|nie można dostarczyć/i,
    away: /poza biurem|automatyczna odpowiedź|autoodpowiedź|nieobecno|na urlopie/i,
  },
  sv: {
    dead: /(användare|mottagare|adress|konto).{0,40}(okänd|finns inte|hittades inte|ogiltig)|okänd (användare|mottagare)/i,
    full: /(inkorg|brevlåda|postlåda|kvot).{0,40}(full\b|överskrid)/i,
    later: /fördröjd|försenad|ännu inte levererats/i,
    failed: /kunde inte levereras|olevererat|gick inte att leverera/i,
    away: /frånvaro|frånvarande|autosvar|automatiskt svar|på semester/i,
  },
  da: {
    dead: /(bruger|modtager|bruker|mottaker|adresse|konto).{0,40}(ukendt|findes ikke|ukjent|finnes ikke|eksisterer ikke|ugyldig)|(ukendt|ukjent) (bruger|modtager|bruker|mottaker)/i,
    full: /(postkasse|indbakke|innboks|kvote).{0,40}(fuld|full|overskredet)/i,
    later: /forsinket|endnu ikke leveret|ennå ikke levert/i,
    failed: /(kunne|kan) ikke lever(es|t)|ikke leveret/i,
    away: /fraværende|fravær|autosvar|automatisk svar|ikke til stede|på ferie/i,
  },
  fi: {
    dead: /(käyttäjä|vastaanottaja|osoite|postilaatikko).{0,40}(tuntematon|ei ole olemassa|ei löydy|virheellinen)|tuntematon (käyttäjä|vastaanottaja)/i,
    full: /(postilaatikko|kiintiö).{0,40}(täynnä|ylittynyt|ylitetty)/i,
    later: /viivästynyt|ei ole vielä toimitettu/i,
    failed: /ei voitu toimittaa|toimitus epäonnistui/i,
    away: /poissaolo|poissa toimistosta|automaattinen vastaus|lomalla/i,
  },
  cs: {
    dead: /(uživatel|příjemce|adresa|schránka|účet).{0,40}(neznám[ýáé]|neexistuje|nenalezen|neplatn[ýáé])|neznámý (uživatel|příjemce)/i,
    full: /(schránka|kvóta).{0,40}(plná|překročen)/i,
    later: /zpožděn|zatím nebyla doručena/i,
    failed: /nedoručiteln|nedoručen|nepodařilo se doručit/i,
    away: /mimo kancelář|automatická odpověď|nepřítomn|na dovolené/i,
  },
};

/** Whether a text says a thing in any of the languages. */
export const says = (what: keyof Sayings, text: string): boolean => languages.some((language) => sayings[language][what].test(text));
