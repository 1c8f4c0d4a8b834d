// How mail servers and people say a thing in their own words, by language. Every expression looks at most 40 signs ahead.

export const languages = [
  'en',
  'de',
  'fr',
  'es',
  'it',
  'nl',
  'pt',
  'pl',
  'sv',
  'da',
  'fi',
  'cs',
  'ru',
  'tr',
  'hu',
  'ro',
  'el',
  'ja',
  'zh',
] as const;
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
  /** A question whether a human wrote. */
  readonly challenge: RegExp;
  /** Whoever wrote: a refusal that speaks of them is not about the address. English has it among the other such words. */
  readonly sender: RegExp;
}

const sayings: Readonly<Record<Language, Sayings>> = {
  en: {
    dead: /\b(user|mailbox|recipient|address|account|addressee)\b.{0,40}\b(unknown|not found|(does(n't|n’t| not)|did(n't|n’t| not)) exist|not exist|no longer (exist|valid|in use|active|available|here|accept)|invalid|disabled|deactivated|inactive|closed|not known|not (a )?valid|unrouteable|(not |n’t |n't )(listed )?in (the |our )?(public )?(directory|name book|address book))|\bno (such|valid) (user|mailbox|person|recipient|address|account)|\b(unknown|invalid|unrouteable|inactive|non-?existent) (local |e-?mail )?(user|recipient|mailbox|address|account)|\bno (mailbox|account|user) (here )?(by|with|of) (that|this) name|\bdoes(n't|n’t| not) have an? .{0,20}\baccount\b|\bunknown or illegal alias|\b(host|domain)( or domain name)? (name )?(unknown|not found|does not exist)|\b(user|recipient|address)notfound\b|\brecipnotfound\b/i,
    full: /\b(mailbox|inbox|quota|storage|mail ?folder)\b.{0,40}\b(full|exceed(ed|s)|over|limit)|\bover ?(the |its |their )?(allowed )?(quota|limit)|\bout of storage|\b(exceed(ed|s)|insufficient|not enough) .{0,20}\b(quota|storage|space|mailbox)\b/i,
    later:
      /\b(delayed|has not (yet )?been delivered|will (be retried|keep trying|continue to try|be tried again)|still being retried|warning: (message|could not send)|still trying|temporary problem|will retry)/i,
    failed:
      /\b(undeliver(ed|able)|deliver(y|ing).{0,30}\b(fail(ed|ure)|problem|impossible)|fail(ed|ure).{0,20}\b(deliver|notice)|returned (to sender|mail)|mail (could not|was not) (be )?deliver|non[- ]?deliver|delivery status notification)/i,
    away: /\b(out of (the )?office|automatic (reply|answer|response)|auto(matic|mated)?[- ]?(reply|responder|response)|on (annual |parental |maternity )?(leave|vacation|holiday)|away from (the |my )?(office|desk)|vacation (reply|message|response)|ooo\b|i( am|['’]m) (away|out of)|away until)/i,
    challenge:
      /\b(confirm|verify|prove)\b.{0,40}\b(human|a person|your (message|e-?mail)\b(?! address))|\bsender (confirmation|verification)\b|\bawaits? (your )?confirmation/i,
    sender: /\bsender verif/i,
  },
  de: {
    dead: /(empfänger|empfaenger|adresse|postfach|benutzer|nutzer|konto).{0,40}(unbekannt|existiert nicht|nicht gefunden|ungültig|ungueltig|nicht vorhanden|deaktiviert|nicht mehr (gültig|vorhanden|verfügbar|aktiv|erreichbar|hier))|unbekannte[rn]? (empfänger|empfaenger|benutzer|adresse)|kein(e|en)? (solche[rsn]? )?(postfach|benutzer|empfänger).{0,20}(diese|vorhanden|gefunden)/i,
    full: /(limit|grenze).{0,20}erreicht|(postfach|speicher|kontingent|quota).{0,40}(voll|überschritten|ueberschritten|erschöpft|überfüllt)/i,
    later: /verzögert|verzoegert|noch nicht zugestellt|weitere zustellversuche/i,
    failed: /unzustellbar|nicht zugestellt|zustellung.{0,20}(fehlgeschlagen|nicht möglich)/i,
    away: /abwesen(d|heit)|nicht am (arbeits)?platz|automatische antwort|nicht im (büro|haus)|im urlaub/i,
    challenge: /bestätigen.{0,40}(mensch|ihre nachricht|ihre e-?mail)|absenderbestätigung/i,
    sender: /absender/i,
  },
  fr: {
    dead: /(aucun|pas d['’]) ?(utilisateur|destinataire|boîte|compte)|(utilisateur|destinataire|adresse|boîte|boite|compte).{0,40}(inconnu|n['’]existe (pas|plus)|introuvable|invalide|désactivé)/i,
    full: /(boîte|boite|quota|messagerie).{0,40}(pleine?|saturée?|dépassée?|depasse)/i,
    later: /retardée?|pas encore été (remis|distribué)/i,
    failed: /non (remis|distribué|délivré)|échec de (la )?(remise|distribution|livraison)/i,
    away: /absence|absente? (du bureau|jusqu|du \d|le \d)|réponse automatique|en congés?/i,
    challenge: /(confirmer|confirmez|prouvez).{0,40}(humain|votre message|êtes une personne)/i,
    sender: /expéditeur|expediteur/i,
  },
  es: {
    dead: /no existe (el|la|esa|ese|esta|este|tal) (cuenta|usuario|buzón|dirección)|(usuario|destinatario|dirección|direccion|buzón|buzon|cuenta).{0,40}(desconocid[oa]|no existe|no encontrad[oa]|inválid[oa]|invalid[oa]|inexistente)/i,
    full: /(buzón|buzon|cuota|espacio).{0,40}(llen[oa]|excedid[oa]|superad[oa]|agotad[oa])/i,
    later: /retrasad[oa]|todavía no se ha entregado|se seguirá intentando/i,
    failed: /no entregado|no se (pudo|ha podido) entregar|devuelto al remitente/i,
    away: /fuera de la oficina|respuesta automática|ausente|de vacaciones/i,
    challenge: /(confirme|confirmar|demuestre).{0,40}(humano|su mensaje|una persona)/i,
    sender: /remitente/i,
  },
  it: {
    dead: /non esiste (l['’]|la |il |questa |questo )?(utente|casella|indirizzo)|(utente|destinatario|indirizzo|casella|account).{0,40}(sconosciut[oa]|inesistente|non esiste|non trovat[oa]|non valid[oa]|disattivat[oa])/i,
    full: /(casella|quota|spazio).{0,40}(pien[oa]|superat[oa]|esaurit[oa])/i,
    later: /ritardo nella consegna|non ancora (consegnat|recapitat)[oa]/i,
    failed: /mancat[ao] (recapito|consegna)|non (recapitabile|consegnat[oa])/i,
    away: /fuori (sede|ufficio)|risposta automatica|assenza|in ferie/i,
    challenge: /(conferma|confermi|confermare).{0,40}(umano|messaggio|una persona)/i,
    sender: /mittente/i,
  },
  nl: {
    dead: /(gebruiker|ontvanger|adres|postbus|postvak|account).{0,40}(onbekend|bestaat niet|niet gevonden|ongeldig)|onbekende (gebruiker|ontvanger)|geen (postvak|postbus|gebruiker) met/i,
    full: /(postvak|postbus|mailbox|quotum).{0,40}(vol\b|overschreden)/i,
    later: /vertraagd|nog niet bezorgd/i,
    failed: /onbestelbaar|niet bezorgd|niet afgeleverd/i,
    away: /afwezig|niet op (kantoor|mijn werk)|automatisch(e)? antwoord|met vakantie/i,
    challenge: /bevestig.{0,40}(mens\b|uw bericht|je bericht)/i,
    sender: /afzender/i,
  },
  pt: {
    dead: /não existe (o |a |esse |essa |este |esta )?(conta|usuário|utilizador|endereço|caixa)|(usuário|usuario|utilizador|destinatário|destinatario|endereço|endereco|caixa|conta).{0,40}(desconhecid[oa]|não existe|nao existe|inexistente|inválid[oa]|não encontrad[oa])/i,
    full: /(caixa|cota|quota|espaço).{0,40}(chei[oa]|excedid[oa]|esgotad[oa])/i,
    later: /atrasad[oa]|ainda não foi entregue/i,
    failed: /não entregue|falha na entrega|não foi possível entregar/i,
    away: /fora do escritório|resposta automática|ausência|ausente|de férias/i,
    challenge: /(confirme|confirmar).{0,40}(humano|sua mensagem|uma pessoa)/i,
    sender: /remetente/i,
  },
  pl: {
    dead: /(użytkownik|adresat|odbiorca|adres|skrzynka|konto).{0,40}(nieznan[ya]|nie istnieje|nie znalezion[oay]|nieprawidłow[ya])|nie ma takiego (użytkownika|adresu|konta)/i,
    full: /(skrzynka|limit|pojemność).{0,40}(pełna|przekroczon[yao]|przepełnion[ya]|zapełnion[ya])/i,
    later: /opóźnion[ya]|jeszcze nie (została )?dostarczon/i,
    failed: /niedostarczon|nie dostarczono|nie można dostarczyć/i,
    away: /poza biurem|nie ma mnie|automatyczna odpowiedź|autoodpowiedź|nieobecno|na urlopie/i,
    challenge: /potwierdź.{0,40}(człowiek|wiadomość)/i,
    sender: /nadawc/i,
  },
  sv: {
    dead: /(användare|mottagare|adress|konto).{0,40}(okänd|finns inte|hittades inte|ogiltig)|okänd (användare|mottagare)/i,
    full: /(inkorg|brevlåda|postlåda|kvot).{0,40}(full\b|överskrid)/i,
    later: /fördröjd|försenad|ännu inte levererats/i,
    failed: /kunde inte levereras|olevererat|gick inte att leverera/i,
    away: /frånvaro|frånvarande|autosvar|automatiskt svar|på semester/i,
    challenge: /bekräfta.{0,40}(människa|ditt meddelande)/i,
    sender: /avsändar/i,
  },
  da: {
    dead: /(bruger|modtager|bruker|mottaker|adresse|konto).{0,40}(ukendt|findes ikke|ukjent|finnes ikke|eksisterer ikke|ugyldig)|(ukendt|ukjent) (bruger|modtager|bruker|mottaker)/i,
    full: /(postkasse|indbakke|innboks|kvote).{0,40}(fuld|full|overskredet)/i,
    later: /forsinket|endnu ikke leveret|ennå ikke levert/i,
    failed: /(kunne|kan) ikke lever(es|t)|ikke leveret/i,
    away: /fraværende|fravær|autosvar|automatisk svar|ikke til stede|på ferie/i,
    challenge: /bekræft.{0,40}(menneske|din besked|din melding)/i,
    sender: /afsender|avsender/i,
  },
  fi: {
    dead: /(käyttäjä|vastaanottaja|osoite|postilaatikko).{0,40}(tuntematon|ei ole olemassa|ei löydy|virheellinen)|tuntematon (käyttäjä|vastaanottaja)/i,
    full: /(postilaatikko|kiintiö).{0,40}(täynnä|ylittynyt|ylitetty)/i,
    later: /viivästynyt|ei ole vielä toimitettu/i,
    failed: /ei voitu toimittaa|toimitus epäonnistui/i,
    away: /poissaolo|poissa toimistosta|automaattinen vastaus|lomalla/i,
    challenge: /vahvista.{0,40}(ihminen|viestisi)/i,
    sender: /lähettäj/i,
  },
  cs: {
    dead: /(uživatel|příjemce|adresa|schránka|účet).{0,40}(neznám[ýáé]|neexistuje|nenalezen|neplatn[ýáé])|neznámý (uživatel|příjemce)/i,
    full: /(schránka|kvóta).{0,40}(plná|překročen)/i,
    later: /zpožděn|zatím nebyla doručena/i,
    failed: /nedoručiteln|nedoručen|nepodařilo se doručit/i,
    away: /mimo kancelář|automatická odpověď|nepřítomn|na dovolené/i,
    challenge: /potvrďte.{0,40}(člověk|zprávu)/i,
    sender: /odesílatel/i,
  },
  ru: {
    dead: /(пользовател|получател|адрес|ящик|аккаунт).{0,40}(не найден|не существует|неизвест|недействител|отключ[её]н|заблокирован навсегда)|(неизвестн|несуществующ)\S{0,4} (пользовател|получател|адрес)|нет такого (пользователя|адреса|ящика)/i,
    full: /(ящик|квота|хранилищ).{0,40}(переполнен|превышен|заполнен)/i,
    later: /задержан|ещё не доставлено|будут продолжены попытки/i,
    failed: /не удалось доставить|не доставлено|недоставлен/i,
    away: /автоматический ответ|автоответ|отсутству|в отпуске/i,
    challenge: /подтвердите.{0,40}(человек|сообщение)/i,
    sender: /отправител/i,
  },
  tr: {
    dead: /(kullanıcı|alıcı|adres|hesap|posta kutusu).{0,40}(bulunamadı|bilinmiyor|mevcut değil|geçersiz|yok\b)/i,
    full: /(posta kutusu|kota|alan).{0,40}(dolu|aşıldı)/i,
    later: /gecikti|henüz teslim edilemedi/i,
    failed: /teslim edilemedi|iletilemedi/i,
    away: /otomatik yanıt|ofis dışında|izindeyim/i,
    challenge: /(insan|kişi) olduğunuzu.{0,20}(doğrula|onayla)/i,
    sender: /gönderen|gönderici/i,
  },
  hu: {
    dead: /(felhasználó|címzett|cím|postafiók).{0,40}(ismeretlen|nem létezik|nem található|érvénytelen)|ismeretlen (felhasználó|címzett)|nincs ilyen (felhasználó|cím|postafiók)/i,
    full: /(postafiók|kvóta|tárhely).{0,40}(megtelt|tele\b|túllép)/i,
    later: /késleltet|késik|még nem sikerült kézbesíteni/i,
    failed: /kézbesíthetetlen|nem kézbesíthető|nem sikerült kézbesíteni/i,
    away: /automatikus válasz|házon kívül|szabadságon/i,
    challenge: /(erősítse meg|igazolja).{0,40}(ember|üzenet)/i,
    sender: /feladó/i,
  },
  ro: {
    dead: /(utilizator|destinatar|adres[aă]|căsuț[aă]|cont)\S{0,3}.{0,40}(necunoscut|nu există|inexistent|nu a fost găsit|invalid)/i,
    full: /(căsuț[aă]|cot[aă]|spați).{0,40}(plin|depășit)/i,
    later: /întârziat|nu a fost încă livrat/i,
    failed: /nelivrat|nu a putut fi livrat/i,
    away: /răspuns automat|în afara biroului|în concediu/i,
    challenge: /confirmați.{0,40}(om\b|mesajul|persoan)/i,
    sender: /expeditor/i,
  },
  el: {
    dead: /(χρήστης|παραλήπτης|διεύθυνση|λογαριασμός).{0,40}(άγνωστ|δεν υπάρχει|δεν βρέθηκε|άκυρ)/i,
    full: /(γραμματοκιβώτιο|θυρίδα|όριο).{0,40}(γεμάτ|πλήρ|υπέρβαση)/i,
    later: /καθυστερ|δεν έχει παραδοθεί ακόμη/i,
    failed: /δεν παραδόθηκε|αδυναμία παράδοσης/i,
    away: /αυτόματη απάντηση|εκτός γραφείου|σε άδεια/i,
    challenge: /επιβεβαιώστε.{0,40}(άνθρωπος|μήνυμα)/i,
    sender: /αποστολέα/i,
  },
  ja: {
    dead: /宛先不明|(ユーザー?|宛先|受信者|アドレス|メールボックス).{0,20}(見つかりません|存在しません|不明|無効)|存在しない(ユーザー|アドレス|宛先)/,
    full: /(メールボックス|容量|受信箱).{0,20}(いっぱい|超過|超え)/,
    later: /遅延|まだ配信されていません|再送を試み/,
    failed: /配信できません|配信不能|送信できません|届けられません/,
    away: /自動(返信|応答)|不在(通知|のお知らせ)|休暇中/,
    challenge: /(人間|本人).{0,10}確認/,
    sender: /送信者|差出人/,
  },
  zh: {
    dead: /(用户|用戶|收件人|邮箱|郵箱|地址|帐号|账号).{0,20}(不存在|未知|无效|無效|已停用|找不到)|(无此|無此|没有此|沒有此)(用户|用戶|邮箱|郵箱)/,
    full: /(邮箱|郵箱|空间|空間|配额).{0,20}(已满|已滿|超出|超过|超過)/,
    later: /延迟|延遲|尚未送达|尚未送達/,
    failed: /退信|无法投递|無法投遞|未送达|無法傳遞|无法送达/,
    away: /自动回复|自動回覆|自動回復|不在办公室|休假/,
    challenge: /(证明|證明|确认|確認).{0,10}(真人|人类|本人)/,
    sender: /发件人|發件人|寄件者|寄件人/,
  },
};

/** Whether a text says a thing in any of the languages. */
export const says = (what: keyof Sayings, text: string): boolean =>
  languages.some((language) => sayings[language][what].test(text));
