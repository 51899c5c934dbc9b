// Long. A catalogue: one entry a cause, as the English one has them.
import type { CauseWords } from '@/core/causes/cause-words';

export const DE_CAUSES: CauseWords = {
  causes: {
    'name.not-found': {
      sentence: 'Den Namen {host} gibt es nicht.',
      advice: 'Schreibweise prüfen, und ob die Domain verlängert wurde und ihre Einträge noch da sind.',
    },
    'name.no-family': {
      sentence: '{host} hat keine {family}-Adresse.',
      advice: 'Eine beim Nameserver eintragen, oder dieser Wache Adressen beider Arten erlauben.',
    },
    'name.server-failed': {
      sentence: 'Der Nameserver konnte für {host} nicht antworten.',
      advice: 'Den Nameserver ansehen oder einen anderen fragen; andere Namen können auch betroffen sein.',
    },
    'name.timeout': {
      sentence: 'Kein Nameserver antwortete für {host} innerhalb von {limit}.',
      advice:
        'Nachsehen, ob der Nameserver läuft und erreichbar ist; andere Namen können auch betroffen sein.',
    },
    'name.refused': {
      sentence: 'Der Nameserver will für {host} nicht antworten.',
      advice: 'Einen fragen, der für diesen Namen antworten darf, oder diesen Rechner dort zulassen.',
    },
    'name.no-record': {
      sentence: '{host} hat keinen {type}-Eintrag.',
      advice: 'Den Eintrag beim Nameserver anlegen, oder eine andere Art suchen.',
    },
    'record.missing': {
      sentence: 'Der {type}-Eintrag von {host} enthält {expected} nicht; er ist {got}.',
      advice: 'Damit vergleichen, was der Nameserver sagen soll; eine Änderung braucht ihre Zeit.',
    },
    'record.differs': {
      sentence: 'Der {type}-Eintrag von {host} ist {got}, nicht {expected}.',
      advice: 'Damit vergleichen, was der Nameserver sagen soll; eine Änderung braucht ihre Zeit.',
    },
    'record.changed': {
      sentence: 'Der {type}-Eintrag von {host} hat sich von {before} zu {got} geändert.',
      advice: 'War es gewollt, den neuen Wert als richtig nehmen; sonst nachsehen, wer die Zone ändern darf.',
    },
    'host.no-route': {
      sentence: 'Es gibt keinen Weg zu {address}.',
      advice: 'Prüfen, ob der Rechner an ist, die Adresse stimmt und das Netz dazwischen steht.',
    },
    'host.silent': {
      sentence: '{host} antwortet nicht auf Ping.',
      advice: 'Der Rechner ist vielleicht aus oder verwirft Ping mit Absicht: dann einen Port ansehen.',
    },
    'host.loss': {
      sentence: '{lost} % der Pakete zu {host} gingen verloren, mehr als die erlaubten {limit} %.',
      advice: 'Die Leitung dazwischen ansehen: schlechtes Kabel, volle Leitung oder schwaches WLAN.',
    },
    'host.far': {
      sentence: 'Hin und zurück zu {host} dauert es {took}, mehr als {limit}.',
      advice: 'Nachsehen, ob die Leitung dazwischen voll ist oder einen anderen Weg nimmt.',
    },
    'port.refused': {
      sentence: 'Der Rechner ist da, aber an Port {port} hört niemand.',
      advice: 'Den Dienst starten, oder prüfen, an welchem Port er hört.',
    },
    'port.timeout': {
      sentence: 'Keine Verbindung zu Port {port} innerhalb von {limit}.',
      advice: 'Der Rechner ist vielleicht aus, oder eine Firewall verwirft es; aus demselben Netz probieren.',
    },
    'port.closed': {
      sentence: 'Port {port} nahm die Verbindung an und schloss sie sofort.',
      advice: 'Im Protokoll des Dienstes nach dem Grund sehen.',
    },
    'answer.none': {
      sentence: 'Port {port} antwortete nicht innerhalb von {limit}.',
      advice: 'Der Dienst nahm den Text und schwieg: sein Protokoll ansehen, und ob er das so erwartet.',
    },
    'answer.differs': {
      sentence: 'Port {port} antwortete „{got}“; erwartet war {expected}.',
      advice: 'Nachsehen, ob dort nun ein anderer Dienst hört oder der Dienst selbst eine Störung meldet.',
    },
    'datagram.silent': {
      sentence: 'Keine Antwort auf das Datagramm an Port {port} innerhalb von {limit}.',
      advice:
        'Verlorenes Paket, Firewall und fehlender Dienst sehen von hier gleich aus. Auf dem Rechner selbst nachsehen.',
    },
    'tls.failed': {
      sentence: 'Die sichere Verbindung kam nicht zustande: {reason}.',
      advice: 'Prüfen, ob dieser Port TLS spricht und ein heutiges Protokoll anbietet.',
    },
    'tls.expired': {
      sentence: 'Das Zertifikat ist vor {ago} abgelaufen.',
      advice: 'Das Zertifikat erneuern, in den Server laden und noch einmal nachsehen.',
    },
    'tls.not-yet-valid': {
      sentence: 'Das Zertifikat gilt erst in {ahead}.',
      advice: 'Die Uhr dieses Rechners und die Daten des Zertifikats prüfen.',
    },
    'tls.wrong-name': {
      sentence: 'Das Zertifikat ist für {names}, nicht für {host}.',
      advice: 'Ein Zertifikat für diesen Namen einsetzen, oder eine Adresse nehmen, die es nennt.',
    },
    'tls.no-names': {
      sentence: 'Das Zertifikat nennt gar keinen Rechner, nur den Common Name {subject}.',
      advice: 'Neu ausstellen lassen, mit dem Rechner als SAN: Browser beachten den Common Name nicht mehr.',
    },
    'tls.chain-expires-soon': {
      sentence: 'Das Zwischenzertifikat {name} läuft in {left} ab.',
      advice: 'Das neuere, das die Zertifizierungsstelle anbietet, neben dem eigenen in den Server laden.',
    },
    'tls.untrusted': {
      sentence: 'Das Zertifikat kommt von keiner Stelle, der dieser Rechner vertraut ({reason}).',
      advice: 'Die ganze Kette auf dem Server einsetzen, oder die Stelle diesem Rechner bekannt machen.',
    },
    'tls.bad-dates': {
      sentence: 'Die Daten des Zertifikats sind nicht lesbar: {dates}.',
      advice: 'Das Zertifikat neu ausstellen lassen; seine Daten folgen nicht dem Standard.',
    },
    'tls.expires-soon': {
      sentence: 'Das Zertifikat läuft in {left} ab.',
      advice: 'Rechtzeitig erneuern; erneuert es sich selbst, nachsehen, warum noch nicht.',
    },
    'tls.expires-urgent': {
      sentence: 'Das Zertifikat läuft schon in {left} ab.',
      advice: 'Jetzt erneuern und in den Server laden.',
    },
    'tls.weak-key': {
      sentence: 'Der Schlüssel des Zertifikats ist schwächer, als er sein sollte: {key}.',
      advice: 'Neu ausstellen lassen, mit EC P-256 oder RSA 2048 oder stärker.',
    },
    'tls.old-protocol': {
      sentence: 'Der Server wollte nur {protocol}, älter als {least}.',
      advice: 'Auf dem Server ein heutiges Protokoll einschalten.',
    },
    'tls.not-offered': {
      sentence: 'Der Server an Port {port} bietet keinen Wechsel zu TLS an.',
      advice: 'Dort STARTTLS einschalten, oder den Port nehmen, der von Anfang an TLS spricht.',
    },
    'reply.timeout': {
      sentence: 'Verbunden, aber keine Antwort innerhalb von {limit}.',
      advice: 'Der Dienst hängt oder ist überlastet: Last und Protokoll ansehen.',
    },
    'reply.unfinished': {
      sentence: 'Die Antwort begann, war aber nach {limit} nicht vollständig.',
      advice: 'Etwas sendet sie sehr langsam oder ohne Ende: Last und Protokoll des Dienstes ansehen.',
    },
    'reply.closed': {
      sentence: 'Die Verbindung wurde geschlossen, bevor etwas zurückkam.',
      advice:
        'Im Protokoll nach einem Absturz sehen, oder nach einem Proxy davor, der niemanden fragen kann.',
    },
    'reply.broken-pieces': {
      sentence: 'Die Antwort kommt in Stücken, die nicht zusammenpassen (chunked).',
      advice: 'Den Dienst ansehen, oder einen Proxy davor, der Antworten umschreibt.',
    },
    'reply.broken-packing': {
      sentence: 'Die Antwort nennt sich als {encoding} gepackt und lässt sich nicht auspacken.',
      advice: 'Nachsehen, ob etwas vor dem Dienst sie doppelt packt oder gar nicht.',
    },
    'reply.cookie-wall': {
      sentence: 'Die Seite schickt jeden zu sich selbst zurück, bis ein Cookie behalten wird.',
      advice: 'Als Reise ansehen, die Cookies behält, oder eine Adresse dahinter.',
    },
    'reply.speaks-tls': {
      sentence: 'Port {port} spricht TLS und wurde ohne gefragt.',
      advice: 'Die Adresse mit https beginnen lassen.',
    },
    'reply.cut-off': {
      sentence: 'Die Antwort brach ab, bevor sie vollständig war.',
      advice: 'Im Protokoll nach einem Absturz sehen, oder nach einem Proxy, der früh aufgibt.',
    },
    'reply.unreadable': {
      sentence: 'Was antwortete, spricht kein HTTP: {reason}.',
      advice: 'Den Port prüfen, und ob die Adresse mit http oder https beginnen soll.',
    },
    'reply.redirects': {
      sentence: 'Mehr als {limit} Weiterleitungen hintereinander.',
      advice: 'Wahrscheinlich schicken zwei Regeln Besucher hin und her; den Adressen einzeln folgen.',
    },
    'reply.bad-redirect': {
      sentence: 'Die Antwort leitet auf eine Adresse weiter, der nicht zu folgen ist: {location}.',
      advice: 'Den Location-Kopf berichtigen, den der Server sendet.',
    },
    'reply.redirected': {
      sentence: 'Die Antwort leitet nach {location} weiter, und hier ist keine Weiterleitung gewollt.',
      advice: 'Nachsehen, ob die Seite umzog; dann die Adresse ändern oder Weiterleitungen erlauben.',
    },
    'reply.redirect-body': {
      sentence:
        'Die Antwort war {status} und will den Inhalt an einen anderen Ort, {location}; das geschah nicht.',
      advice: 'Ist die Seite dorthin gezogen, jene Adresse selbst ansehen.',
    },
    'reply.redirect-elsewhere': {
      sentence: 'Es führt nach {location}, nicht nach {expected}.',
      advice: 'Die Regeln für Weiterleitungen auf dem Server ansehen.',
    },
    'reply.header-flood': {
      sentence: 'Der Kopf der Antwort ist länger, als dieser Rechner liest.',
      advice: 'Nachsehen, was ihn füllt; meist setzt eine Schleife Cookies.',
    },
    'reply.header': {
      sentence: 'Der Kopf {header} ist {got}; erwartet war {expected}.',
      advice: 'Die Einstellungen des Servers oder des Proxys davor ansehen.',
    },
    'reply.too-small': {
      sentence: 'Die Antwort ist {size} lang, weniger als {limit}.',
      advice: 'Die Seite öffnen: sie ist vielleicht leer oder abgeschnitten.',
    },
    'reply.too-large': {
      sentence: 'Die Antwort ist länger als {limit}.',
      advice: 'Die Seite öffnen: sie ist vielleicht gewachsen oder endet nie.',
    },
    'reply.no-upgrade': {
      sentence: 'Der Server nahm den WebSocket nicht auf; er antwortete {status}.',
      advice: 'Nachsehen, ob die Adresse stimmt und ein Proxy dazwischen WebSockets durchlässt.',
    },
    'reply.proxy': {
      sentence: 'Der Proxy {proxy} ließ die Anfrage nicht durch: {reason}.',
      advice: 'Nachsehen, ob der Proxy läuft und diese Adresse erreichen darf.',
    },
    'reply.unexpected': {
      sentence: 'Es antwortete „{got}“; so antwortet {service} nicht.',
      advice: 'Nachsehen, ob an diesem Port nun ein anderer Dienst hört.',
    },
    'reply.status': {
      sentence: 'Der Server antwortet, aber mit {status}.',
      advice: 'Im Protokoll des Dienstes zur Zeit des ersten Fehlschlags nachsehen.',
    },
    'text.missing': {
      sentence: 'Die Wörter „{words}“ fehlen auf der Seite.',
      advice: 'Die Seite öffnen: sie zeigt vielleicht einen Fehler, oder der Wortlaut wurde geändert.',
    },
    'text.unwanted': {
      sentence: 'Die Wörter „{words}“ stehen auf der Seite und dürfen es nicht.',
      advice: 'Die Seite öffnen: sie zeigt vielleicht einen Fehler.',
    },
    'text.no-match': {
      sentence: 'Nichts auf der Seite passt zum Muster {pattern}.',
      advice: 'Die Seite öffnen: sie zeigt vielleicht einen Fehler, oder ihr Text wurde geändert.',
    },
    'text.not-reached': {
      sentence: '{what} steht nicht in den ersten {read} der Seite; was folgt, wurde nicht gelesen.',
      advice: 'Wörter näher am Anfang wählen, oder eine Adresse mit einer kürzeren Seite.',
    },
    'json.unreadable': {
      sentence: 'Die Antwort ist kein JSON: {reason}.',
      advice: 'Die Adresse öffnen: vielleicht steht dort eine Fehlerseite statt Daten.',
    },
    'value.none': {
      sentence: 'Bei {what} steht nichts.',
      advice: 'Die Antwort selbst ansehen; ihre Form hat sich vielleicht geändert.',
    },
    'value.too-far': {
      sentence: '{what} führt durch mehr von der Antwort, als durchgegangen wird.',
      advice: 'Den Weg zum Wert nennen, statt „..“ oder eines Filters, oder eine kürzere Antwort erfragen.',
    },
    'value.differs': {
      sentence: '{what} ist {got}; erwartet war {expected}.',
      advice: 'Nachsehen, woher der Wert kommt; vielleicht wurde er mit Absicht geändert.',
    },
    'value.no-number': {
      sentence: 'Was für {what} kam, ist keine Zahl: {got}.',
      advice: 'Die Antwort selbst ansehen: ein anderer Wert oder eine Einheit steht vielleicht dort.',
    },
    'value.low': { sentence: '{what} ist {value}, unter {limit}.', advice: 'Nachsehen, warum es fiel.' },
    'value.high': { sentence: '{what} ist {value}, über {limit}.', advice: 'Nachsehen, warum es stieg.' },
    'value.low-soon': {
      sentence: '{what} ist {value}, unter {limit}, und bald vielleicht zu niedrig.',
      advice: 'Nachsehen, warum es fällt.',
    },
    'value.high-soon': {
      sentence: '{what} ist {value}, über {limit}, und bald vielleicht zu hoch.',
      advice: 'Nachsehen, warum es steigt.',
    },
    'value.old': {
      sentence: 'Der letzte Wert von {what} ist {age} alt; erlaubt sind {limit}.',
      advice: 'Nachsehen, ob das, was ihn sendet, noch läuft.',
    },
    'sign-in.refused': {
      sentence: 'Die Anmeldung wurde abgelehnt: {said}.',
      advice: 'Name und Passwort prüfen, und ob sich das Konto von diesem Rechner anmelden darf.',
    },
    'sign-in.full': {
      sentence: 'Der Server nimmt keine Verbindungen mehr an: {said}.',
      advice: 'Nachsehen, wer sie alle hält; die Grenze erst anheben, wenn klar ist, warum.',
    },
    'sign-in.not-ready': {
      sentence: 'Der Server ist da, aber noch nicht bereit: {said}.',
      advice: 'Er startet, hält an oder erholt sich: kurz warten und in seinem Protokoll nachsehen.',
    },
    'command.refused': {
      sentence: 'Es antwortete „{said}“ auf {command}.',
      advice: 'Im Protokoll des Dienstes nach dem Grund sehen.',
    },
    'topic.silent': {
      sentence: 'Auf dem Thema {topic} kam nichts innerhalb von {limit}.',
      advice: 'Nachsehen, ob der Absender noch läuft und seinen letzten Wert beim Broker lässt.',
    },
    'container.no-engine': {
      sentence: 'Unter {path} antwortet keine Container-Engine.',
      advice: 'Nachsehen, ob sie läuft und dies der Pfad ihres Sockets ist.',
    },
    'container.missing': {
      sentence: 'Es gibt keinen Container namens {name}.',
      advice: 'Nachsehen, ob er entfernt oder umbenannt wurde.',
    },
    'container.stopped': {
      sentence: 'Der Container {name} ist {state}.',
      advice: 'In seinem Protokoll nachsehen, warum er endete, und ihn wieder starten.',
    },
    'container.unhealthy': {
      sentence: 'Der Container {name} läuft, aber seine eigene Prüfung sagt {health}.',
      advice: 'Das Protokoll seiner Prüfung ansehen.',
    },
    'parts.down': {
      sentence: '{down} von {all} sind ausgefallen: {names}.',
      advice: 'Diese zuerst ansehen; hier werden sie nur zusammengefasst.',
    },
    'look.broken': {
      sentence: 'Dieser Blick war hier nicht möglich: {reason}.',
      advice: 'Der Fehler liegt bei Calm Lantern oder seinem Rechner, nicht beim Ziel.',
    },
    'look.no-ping': {
      sentence: 'Dieser Rechner kann kein Ping senden: {reason}.',
      advice:
        'Das Programm ping installieren (unter Debian: apt install iputils-ping) und ICMP erlauben (setcap cap_net_raw+ep).',
    },
    'look.wrong-key': {
      sentence: 'Das Zertifikat des Clients und sein Schlüssel gehören nicht zusammen.',
      advice: 'Beide noch einmal aus demselben Paar einsetzen; bis dahin ist vom Ziel nichts bekannt.',
    },
    'look.no-permission': {
      sentence: 'Calm Lantern darf {path} nicht öffnen.',
      advice:
        'Sein Konto in die Gruppe aufnehmen, der es gehört (usermod -aG GRUPPE KONTO), dann Calm Lantern neu starten.',
    },
    'look.no-line': {
      sentence: 'Dieser Rechner konnte gar nicht nach außen.',
      advice: 'Die eigene Leitung ansehen: Kabel, WLAN, Router. Bis dahin bleibt alles ohne Urteil.',
    },
    'look.no-parts': {
      sentence: 'Von den Wachen, aus denen sie besteht, ist noch nichts bekannt.',
      advice: 'Sie sagt etwas, sobald genug davon angesehen wurden.',
    },
    'checkin.missed': {
      sentence: 'Erwartet bis {deadline}, aber es kam keine Meldung.',
      advice: 'Auf dem Rechner der Aufgabe nachsehen, ob sie startete und diese Adresse erreicht.',
    },
    'checkin.never': {
      sentence: 'Erwartet bis {deadline}, aber es kam noch nie eine Meldung.',
      advice:
        'Vielleicht meldet sie noch nicht: eine der fertigen Zeilen einsetzen und einmal von Hand starten.',
    },
    'checkin.failed': {
      sentence: 'Die Aufgabe meldete, dass sie fehlschlug.',
      advice: 'Ihre gesendete Ausgabe lesen, oder das Protokoll auf ihrem Rechner.',
    },
    'checkin.exit-status': {
      sentence: 'Die Aufgabe endete mit dem Status {code}.',
      advice: 'Ihre gesendete Ausgabe lesen, oder das Protokoll auf ihrem Rechner.',
    },
    'checkin.unfinished': {
      sentence: 'Die Aufgabe begann um {begun}, meldete aber nie, dass sie fertig ist.',
      advice: 'Sie hängt vielleicht oder wurde beendet: auf ihrem Rechner nachsehen.',
    },
    'checkin.doubled': {
      sentence: 'Die Aufgabe begann noch einmal, während der Lauf von {begun} nicht fertig war.',
      advice: 'Zwei Läufe zugleich stören sich vielleicht: eine Sperre nehmen lassen, oder seltener starten.',
    },
    'checkin.too-soon': {
      sentence:
        'Die Aufgabe war {gap} nach dem letzten Mal wieder fertig; {limit} sollten dazwischen liegen.',
      advice: 'Nachsehen, ob sie doppelt eingeplant ist oder auch von Hand oder anderswo startet.',
    },
    'checkin.overlong': {
      sentence: 'Die Aufgabe begann um {begun} und läuft länger als die erlaubten {limit}.',
      advice: 'Nachsehen, ob sie hängt, oder ihr mehr Zeit geben, wenn sie mehr zu tun hat.',
    },
  },
  status: {
    '401':
      'Es verlangt eine Anmeldung: Name und Passwort oder ein Token für diese Wache setzen oder berichtigen.',
    '403': 'Es weiß, wer fragt, und lässt niemanden ein: seine Regeln ansehen, und ob dieser Rechner darf.',
    '404': 'Die Seite ist nicht da: die Adresse prüfen, und ob die letzte Änderung sie verschob.',
    '407': 'Ein Proxy dazwischen verlangt eine Anmeldung: seinen Namen und sein Passwort setzen.',
    '429': 'Es findet, dass zu oft gefragt wird: seltener nachsehen, oder diesen Rechner ausnehmen lassen.',
    '503': 'Es sagt selbst, dass es gerade nicht kann: Last und Protokoll ansehen, und worauf es beruht.',
    gateway:
      'Was antwortet, steht vor dem Dienst und erreicht ihn nicht: nachsehen, ob der Dienst dahinter läuft.',
    elsewhere: 'Es führt anderswohin: die neue Adresse ansehen, oder Weiterleitungen folgen lassen.',
  },
  own: {
    'clock.jumped': {
      sentence: 'Die Uhr dieses Rechners wurde um {by} verstellt.',
      advice: 'Alles wurde neu geplant. Kommt es wieder vor, einen Zeitdienst die Uhr stellen lassen (NTP).',
      over: 'Alles wurde neu geplant.',
    },
    'disk.full': {
      sentence: 'Der Datenträger ist voll: {left} frei. Neue Befunde und Ausgaben werden nicht behalten.',
      advice: 'Platz schaffen auf {folder}. Ausfälle und Nachrichten gehen noch durch, aus einer Rücklage.',
      over: 'Es ist wieder Platz; alles wird behalten.',
    },
    'disk.low': {
      sentence: 'Der Datenträger ist fast voll: {left} frei.',
      advice: 'Platz schaffen auf {folder}, bevor nichts mehr behalten werden kann.',
      over: 'Es ist wieder Platz auf dem Datenträger.',
    },
    'key.lost': {
      sentence: 'Der Schlüssel zu den Geheimnissen ist nicht der, mit dem sie versiegelt wurden ({file}).',
      advice: 'Die alte Schlüsseldatei neben die Datenbank legen, oder jedes Geheimnis neu eingeben.',
      over: 'Die Geheimnisse lassen sich wieder öffnen.',
    },
    'look.stuck': {
      sentence: 'Nach {names} kann nicht gesehen werden: {reason}',
      advice: 'Der Fehler liegt auf diesem Rechner. Bis er behoben ist, ist von den Zielen nichts bekannt.',
      over: 'Es wird wieder überall nachgesehen.',
    },
    'look.missing': {
      sentence: 'Kein Blick auf {names} kam in der Zeit zu Ende, die er brauchen sollte.',
      advice: 'Dieser Rechner hat vielleicht zu viel zu tun. Seine Last ansehen, oder seltener nachsehen.',
      over: 'Alle Blicke kommen wieder zu Ende.',
    },
    'channel.stuck': {
      sentence: 'Der Kanal {name} nimmt keine Nachrichten an: {said}',
      advice: 'Prüfen, ob seine Adresse noch stimmt, und einen Test senden. Was wartet, geht dann hinaus.',
      over: 'Der Kanal {name} nimmt wieder Nachrichten an.',
    },
    'room.deaf': {
      sentence: 'Im Kanal {name} ist keine Antwort zu hören: {reason}',
      advice:
        'Nachrichten kommen dort vielleicht noch an. Seine Einstellungen prüfen, oder ihn keine Antworten annehmen lassen.',
      over: 'Im Kanal {name} sind Antworten wieder zu hören.',
    },
    'desk.failing': {
      sentence: 'Der Teil von Calm Lantern, der Seiten zeichnet und die API beantwortet, hält sich nicht.',
      advice:
        'Das Protokoll von Calm Lantern sagt, wie er geendet hat. Prüfungen, Rückmeldungen und Nachrichten gehen ohne ihn weiter. Braucht er mehr Speicher, setzen Sie LANTERN_DESK_MEMORY.',
      over: 'Seiten werden wieder gezeichnet, und die API antwortet wieder.',
    },
    'copy.failed': {
      sentence: 'Von der öffentlichen Seite {name} kann keine Kopie gemacht werden: {reason}',
      advice:
        'Sehen Sie nach, ob in ihren Ordner geschrieben werden kann, oder ob die Adresse, an die sie geht, Dateien annimmt.',
      over: 'Kopien der öffentlichen Seite {name} werden wieder gemacht.',
    },
    'text.broken': {
      sentence: 'Der eigene Text {name} geht nicht auf, gesagt wird der eingebaute: {reason}',
      advice: 'Den Text unter Nachrichten ansehen und dort ausprobieren.',
      over: 'Der eigene Text {name} geht wieder auf.',
    },
  },
  holds: {
    name: 'der Name ist bekannt',
    host: 'der Rechner antwortet auf Ping',
    port: 'Port {port} ist offen',
    certificate: 'das Zertifikat gilt',
    reply: 'es kommt eine Antwort',
  },
  silent: 'Auch auf Ping antwortet der Rechner nicht.',
  and: 'und',
};
