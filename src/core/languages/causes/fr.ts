// Long. A catalogue: one entry a cause, as the English one has them.
import type { CauseWords } from '@/core/causes/cause-words';

export const FR_CAUSES: CauseWords = {
  causes: {
    'name.not-found': {
      sentence: 'Le nom {host} n’existe pas.',
      advice: 'Vérifier l’orthographe, et si le domaine a été renouvelé et ses enregistrements sont là.',
    },
    'name.no-family': {
      sentence: '{host} n’a pas d’adresse {family}.',
      advice: 'En ajouter une au serveur de noms, ou laisser cette veille prendre les deux sortes.',
    },
    'name.server-failed': {
      sentence: 'Le serveur de noms n’a pas pu répondre pour {host}.',
      advice: 'Regarder ce serveur, ou en essayer un autre ; d’autres noms peuvent être touchés.',
    },
    'name.timeout': {
      sentence: 'Aucun serveur de noms n’a répondu pour {host} en {limit}.',
      advice: 'Regarder s’il est allumé et joignable ; d’autres noms peuvent être touchés.',
    },
    'name.refused': {
      sentence: 'Le serveur de noms refuse de répondre pour {host}.',
      advice: 'En interroger un qui répond pour ce nom, ou y autoriser cette machine.',
    },
    'name.no-record': {
      sentence: '{host} n’a pas d’enregistrement {type}.',
      advice: 'L’ajouter au serveur de noms, ou chercher une autre sorte.',
    },
    'record.missing': {
      sentence: 'L’enregistrement {type} de {host} ne contient pas {expected} ; il est {got}.',
      advice: 'Comparer à ce que le serveur de noms doit dire ; un changement met du temps à arriver.',
    },
    'record.differs': {
      sentence: 'L’enregistrement {type} de {host} est {got}, et non {expected}.',
      advice: 'Comparer à ce que le serveur de noms doit dire ; un changement met du temps à arriver.',
    },
    'record.changed': {
      sentence: 'L’enregistrement {type} de {host} est passé de {before} à {got}.',
      advice: 'Si c’était voulu, prendre la nouvelle valeur ; sinon, voir qui peut changer la zone.',
    },
    'host.no-route': {
      sentence: 'Il n’y a pas de route vers {address}.',
      advice: 'Vérifier que l’hôte est allumé, son adresse, et le réseau entre les deux.',
    },
    'host.silent': {
      sentence: '{host} ne répond pas au ping.',
      advice: 'L’hôte est peut-être éteint, ou ignore le ping exprès : essayer un port.',
    },
    'host.loss': {
      sentence: '{lost} % des paquets vers {host} se sont perdus, plus que la limite de {limit} %.',
      advice: 'Regarder la ligne entre les deux : câble, ligne chargée ou sans-fil faible.',
    },
    'host.far': {
      sentence: 'L’aller-retour vers {host} prend {took}, plus que {limit}.',
      advice: 'Regarder si la ligne est chargée, ou prend un autre chemin.',
    },
    'port.refused': {
      sentence: 'L’hôte est là, mais rien n’écoute sur le port {port}.',
      advice: 'Démarrer le service, ou vérifier sur quel port il écoute.',
    },
    'port.timeout': {
      sentence: 'Pas de connexion au port {port} en {limit}.',
      advice: 'L’hôte est peut-être éteint, ou un pare-feu écarte le trafic ; essayer du même réseau.',
    },
    'port.closed': {
      sentence: 'Le port {port} a accepté la connexion et l’a fermée aussitôt.',
      advice: 'Chercher la raison dans le journal du service.',
    },
    'answer.none': {
      sentence: 'Le port {port} n’a pas répondu en {limit}.',
      advice: 'Le service a pris le texte sans rien dire : voir son journal, et s’il attend bien cela.',
    },
    'answer.differs': {
      sentence: 'Le port {port} a répondu « {got} » ; attendu : {expected}.',
      advice: 'Voir si un autre service y écoute, ou si le service annonce un ennui.',
    },
    'datagram.silent': {
      sentence: 'Aucune réponse au datagramme sur le port {port} en {limit}.',
      advice: 'Paquet perdu, pare-feu ou service absent se ressemblent d’ici. Voir sur l’hôte même.',
    },
    'tls.failed': {
      sentence: 'La connexion sûre n’a pu être établie : {reason}.',
      advice: 'Vérifier que ce port parle TLS et offre un protocole actuel.',
    },
    'tls.expired': {
      sentence: 'Le certificat a expiré il y a {ago}.',
      advice: 'Renouveler le certificat, le charger dans le serveur, et regarder de nouveau.',
    },
    'tls.not-yet-valid': {
      sentence: 'Le certificat ne sera valable que dans {ahead}.',
      advice: 'Vérifier l’horloge de cette machine et les dates du certificat.',
    },
    'tls.wrong-name': {
      sentence: 'Le certificat est pour {names}, pas pour {host}.',
      advice: 'Installer un certificat à ce nom, ou prendre une adresse qu’il nomme.',
    },
    'tls.no-names': {
      sentence: 'Le certificat ne nomme aucun hôte ; il n’a que le nom commun {subject}.',
      advice: 'Le faire refaire avec l’hôte comme SAN : les navigateurs ignorent le nom commun.',
    },
    'tls.chain-expires-soon': {
      sentence: 'Le certificat intermédiaire {name} expire dans {left}.',
      advice: 'Charger le plus récent de son autorité, à côté de celui du serveur.',
    },
    'tls.untrusted': {
      sentence: 'Le certificat ne vient pas d’une autorité connue de cette machine ({reason}).',
      advice: 'Installer toute la chaîne sur le serveur, ou faire connaître son autorité ici.',
    },
    'tls.bad-dates': {
      sentence: 'Les dates du certificat sont illisibles : {dates}.',
      advice: 'Faire refaire le certificat ; ses dates ne suivent pas la norme.',
    },
    'tls.expires-soon': {
      sentence: 'Le certificat expire dans {left}.',
      advice: 'Le renouveler à temps ; s’il se renouvelle seul, voir pourquoi pas encore.',
    },
    'tls.expires-urgent': {
      sentence: 'Le certificat expire dans seulement {left}.',
      advice: 'Le renouveler maintenant et le charger dans le serveur.',
    },
    'tls.weak-key': {
      sentence: 'La clé du certificat est plus faible qu’elle ne devrait : {key}.',
      advice: 'Le faire refaire avec EC P-256 ou RSA 2048, ou plus fort.',
    },
    'tls.old-protocol': {
      sentence: 'Le serveur n’a accepté que {protocol}, plus ancien que {least}.',
      advice: 'Activer un protocole actuel sur le serveur.',
    },
    'tls.not-offered': {
      sentence: 'Le serveur du port {port} n’offre pas de passer en TLS.',
      advice: 'Y activer STARTTLS, ou regarder le port qui parle TLS d’emblée.',
    },
    'reply.timeout': {
      sentence: 'Connecté, mais pas de réponse en {limit}.',
      advice: 'Le service est bloqué ou surchargé : voir sa charge et son journal.',
    },
    'reply.unfinished': {
      sentence: 'La réponse a commencé, mais n’était pas complète en {limit}.',
      advice: 'Quelque chose l’envoie très lentement ou sans fin : voir la charge et le journal.',
    },
    'reply.closed': {
      sentence: 'La connexion a été fermée avant que rien ne vienne.',
      advice: 'Chercher un arrêt brutal dans le journal, ou un mandataire sans personne à interroger.',
    },
    'reply.broken-pieces': {
      sentence: 'La réponse vient en morceaux qui ne vont pas ensemble (chunked).',
      advice: 'Voir le service, ou un mandataire devant lui qui réécrit les réponses.',
    },
    'reply.broken-packing': {
      sentence: 'La réponse se dit compressée en {encoding}, et ne se décompresse pas.',
      advice: 'Voir si quelque chose devant le service la compresse deux fois, ou pas du tout.',
    },
    'reply.cookie-wall': {
      sentence: 'La page renvoie chacun vers elle-même tant qu’aucun cookie n’est gardé.',
      advice: 'La veiller comme un parcours, qui garde les cookies, ou une adresse derrière elle.',
    },
    'reply.speaks-tls': {
      sentence: 'Le port {port} parle TLS, et a été interrogé sans.',
      advice: 'Faire commencer l’adresse par https.',
    },
    'reply.cut-off': {
      sentence: 'La réponse a été coupée avant la fin.',
      advice: 'Chercher un arrêt brutal dans le journal, ou un mandataire qui abandonne tôt.',
    },
    'reply.unreadable': {
      sentence: 'Ce qui répond ne parle pas HTTP : {reason}.',
      advice: 'Vérifier le port, et si l’adresse commence par http ou https.',
    },
    'reply.redirects': {
      sentence: 'Plus de {limit} redirections de suite.',
      advice: 'Deux règles se renvoient sans doute les visiteurs ; suivre les adresses une à une.',
    },
    'reply.bad-redirect': {
      sentence: 'La réponse redirige vers une adresse impossible à suivre : {location}.',
      advice: 'Corriger l’en-tête Location que le serveur envoie.',
    },
    'reply.redirected': {
      sentence: 'La réponse redirige vers {location}, et aucune redirection n’est voulue ici.',
      advice: 'Voir si la page a déménagé ; changer alors l’adresse, ou suivre les redirections.',
    },
    'reply.redirect-body': {
      sentence:
        'La réponse est {status} et veut le contenu envoyé à un autre site, {location} ; cela n’a pas été fait.',
      advice: 'Si la page a déménagé pour de bon, veiller cette adresse-là.',
    },
    'reply.redirect-elsewhere': {
      sentence: 'Cela mène à {location}, et non à {expected}.',
      advice: 'Voir les règles de redirection du serveur.',
    },
    'reply.header-flood': {
      sentence: 'L’en-tête de la réponse est plus long que ce que cette machine lit.',
      advice: 'Voir ce qui le remplit ; d’ordinaire une boucle qui pose des cookies.',
    },
    'reply.header': {
      sentence: 'L’en-tête {header} est {got} ; attendu : {expected}.',
      advice: 'Voir les réglages du serveur ou du mandataire devant lui.',
    },
    'reply.too-small': {
      sentence: 'La réponse fait {size}, moins que {limit}.',
      advice: 'Ouvrir la page : elle est peut-être vide ou tronquée.',
    },
    'reply.too-large': {
      sentence: 'La réponse dépasse {limit}.',
      advice: 'Ouvrir la page : elle a peut-être grandi, ou ne finit jamais.',
    },
    'reply.no-upgrade': {
      sentence: 'Le serveur n’a pas pris le WebSocket ; il a répondu {status}.',
      advice: 'Voir si l’adresse est juste et si un mandataire laisse passer les WebSockets.',
    },
    'reply.proxy': {
      sentence: 'Le mandataire {proxy} n’a pas laissé passer la demande : {reason}.',
      advice: 'Voir s’il est allumé, et peut joindre cette adresse.',
    },
    'reply.unexpected': {
      sentence: 'Réponse « {got} » : ce n’est pas ainsi que répond {service}.',
      advice: 'Voir si un autre service écoute maintenant sur ce port.',
    },
    'reply.status': {
      sentence: 'Le serveur répond, mais {status}.',
      advice: 'Voir le journal du service à l’heure du premier échec.',
    },
    'text.missing': {
      sentence: 'Les mots « {words} » manquent sur la page.',
      advice: 'Ouvrir la page : elle montre peut-être une erreur, ou le texte a changé exprès.',
    },
    'text.unwanted': {
      sentence: 'Les mots « {words} » sont sur la page, et ne doivent pas y être.',
      advice: 'Ouvrir la page : elle montre peut-être une erreur.',
    },
    'text.no-match': {
      sentence: 'Rien sur la page ne correspond au motif {pattern}.',
      advice: 'Ouvrir la page : elle montre peut-être une erreur, ou son texte a changé exprès.',
    },
    'text.not-reached': {
      sentence: '{what} n’est pas dans les premiers {read} de la page ; la suite n’a pas été lue.',
      advice: 'Choisir des mots plus près du début, ou une adresse plus courte à lire.',
    },
    'json.unreadable': {
      sentence: 'La réponse n’est pas du JSON : {reason}.',
      advice: 'Ouvrir l’adresse : elle montre peut-être une page d’erreur.',
    },
    'value.none': {
      sentence: 'Il n’y a rien à {what}.',
      advice: 'Voir la réponse elle-même ; sa forme a peut-être changé.',
    },
    'value.too-far': {
      sentence: '{what} traverse plus de la réponse que ce qui est parcouru.',
      advice:
        'Nommer le chemin vers la valeur plutôt que « .. » ou un filtre, ou demander une réponse plus courte.',
    },
    'value.differs': {
      sentence: '{what} est {got} ; attendu : {expected}.',
      advice: 'Voir d’où vient la valeur ; elle a peut-être changé exprès.',
    },
    'value.no-number': {
      sentence: 'Ce qui est venu pour {what} n’est pas un nombre : {got}.',
      advice: 'Voir la réponse elle-même : une autre valeur ou une unité s’y trouve peut-être.',
    },
    'value.low': { sentence: '{what} est {value}, sous {limit}.', advice: 'Voir pourquoi cela a baissé.' },
    'value.high': {
      sentence: '{what} est {value}, au-dessus de {limit}.',
      advice: 'Voir pourquoi cela a monté.',
    },
    'value.low-soon': {
      sentence: '{what} est {value}, sous {limit}, et peut bientôt être trop bas.',
      advice: 'Voir pourquoi cela baisse.',
    },
    'value.high-soon': {
      sentence: '{what} est {value}, au-dessus de {limit}, et peut bientôt être trop haut.',
      advice: 'Voir pourquoi cela monte.',
    },
    'value.old': {
      sentence: 'La dernière valeur de {what} a {age} ; {limit} sont permis.',
      advice: 'Voir si ce qui l’envoie tourne encore.',
    },
    'sign-in.refused': {
      sentence: 'La connexion au compte a été refusée : {said}.',
      advice: 'Vérifier nom et mot de passe, et si le compte peut venir de cette machine.',
    },
    'sign-in.full': {
      sentence: 'Le serveur ne prend plus de connexions : {said}.',
      advice: 'Voir qui les tient toutes ; ne relever la limite qu’en sachant pourquoi.',
    },
    'sign-in.not-ready': {
      sentence: 'Le serveur est là, mais pas encore prêt : {said}.',
      advice: 'Il démarre, s’arrête ou se remet : attendre un peu, et lire son journal.',
    },
    'command.refused': {
      sentence: 'Réponse « {said} » à {command}.',
      advice: 'Chercher la raison dans le journal du service.',
    },
    'topic.silent': {
      sentence: 'Rien n’est venu sur le sujet {topic} en {limit}.',
      advice: 'Voir si l’émetteur tourne encore et laisse sa dernière valeur au courtier.',
    },
    'container.no-engine': {
      sentence: 'Aucun moteur de conteneurs ne répond à {path}.',
      advice: 'Voir s’il tourne, et si c’est le chemin de sa prise.',
    },
    'container.missing': {
      sentence: 'Il n’y a pas de conteneur nommé {name}.',
      advice: 'Voir s’il a été retiré ou renommé.',
    },
    'container.stopped': {
      sentence: 'Le conteneur {name} est {state}.',
      advice: 'Voir dans son journal pourquoi il a fini, et le relancer.',
    },
    'container.unhealthy': {
      sentence: 'Le conteneur {name} tourne, mais son propre contrôle dit {health}.',
      advice: 'Voir le journal de son contrôle.',
    },
    'parts.down': {
      sentence: '{down} sur {all} sont en panne : {names}.',
      advice: 'Voir celles-là d’abord ; celle-ci ne fait que les réunir.',
    },
    'look.broken': {
      sentence: 'Ce regard n’a pu être porté d’ici : {reason}.',
      advice: 'La faute est à Calm Lantern ou à sa machine, pas à la cible.',
    },
    'look.no-ping': {
      sentence: 'Cette machine ne peut pas envoyer de ping : {reason}.',
      advice:
        'Installer ping (sous Debian : apt install iputils-ping) et lui permettre ICMP (setcap cap_net_raw+ep).',
    },
    'look.wrong-key': {
      sentence: 'Le certificat du client et sa clé ne vont pas ensemble.',
      advice: 'Coller de nouveau les deux de la même paire ; d’ici là, rien n’est su de la cible.',
    },
    'look.no-permission': {
      sentence: 'Calm Lantern ne peut pas ouvrir {path}.',
      advice:
        'Ajouter son compte au groupe propriétaire (usermod -aG GROUPE COMPTE), puis relancer Calm Lantern.',
    },
    'look.no-line': {
      sentence: 'Cette machine ne pouvait pas du tout sortir.',
      advice: 'Voir sa propre ligne : câble, sans-fil, routeur. D’ici là, rien n’est conclu.',
    },
    'look.no-parts': {
      sentence: 'Rien n’est encore su des veilles dont elle est faite.',
      advice: 'Elle dira quelque chose dès qu’assez d’entre elles auront été regardées.',
    },
    'checkin.missed': {
      sentence: 'Attendu avant {deadline}, mais aucun signal n’est venu.',
      advice: 'Voir sur la machine de la tâche si elle a démarré et joint cette adresse.',
    },
    'checkin.never': {
      sentence: 'Attendu avant {deadline}, mais aucun signal n’est jamais venu.',
      advice:
        'La tâche ne signale peut-être pas encore : y mettre une des lignes prêtes, et la lancer une fois.',
    },
    'checkin.failed': {
      sentence: 'La tâche a signalé son échec.',
      advice: 'Lire ce qu’elle a envoyé, ou son journal sur sa machine.',
    },
    'checkin.exit-status': {
      sentence: 'La tâche a fini avec le code {code}.',
      advice: 'Lire ce qu’elle a envoyé, ou son journal sur sa machine.',
    },
    'checkin.unfinished': {
      sentence: 'La tâche a commencé à {begun}, mais n’a jamais dit avoir fini.',
      advice: 'Elle est peut-être bloquée ou arrêtée : la chercher sur sa machine.',
    },
    'checkin.doubled': {
      sentence: 'La tâche a recommencé alors que la course de {begun} n’avait pas fini.',
      advice: 'Deux courses à la fois se gênent : lui faire prendre un verrou, ou la lancer moins souvent.',
    },
    'checkin.too-soon': {
      sentence: 'La tâche a refini {gap} après la fois d’avant ; {limit} au moins devraient les séparer.',
      advice: 'Voir si elle est prévue deux fois, ou lancée aussi à la main ou d’ailleurs.',
    },
    'checkin.overlong': {
      sentence: 'La tâche a commencé à {begun} et dure plus que les {limit} permis.',
      advice: 'Voir si elle est bloquée, ou lui donner plus de temps si elle a plus à faire.',
    },
  },
  status: {
    '401': 'Il demande une connexion : donner nom et mot de passe ou un jeton pour cette veille.',
    '403':
      'Il sait qui demande et ne laisse entrer personne : voir ses règles, et si cette machine peut venir.',
    '404': 'La page n’est pas là : vérifier l’adresse, et si la dernière version l’a déplacée.',
    '407': 'Un mandataire demande une connexion : donner son nom et son mot de passe.',
    '429': 'Il trouve qu’on demande trop souvent : regarder moins souvent, ou faire excepter cette machine.',
    '503': 'Il dit lui-même ne pas pouvoir servir : voir sa charge, son journal et ce dont il dépend.',
    gateway: 'Ce qui répond est devant le service et ne le joint pas : voir si le service derrière tourne.',
    elsewhere: 'Cela mène ailleurs : voir la nouvelle adresse, ou suivre les redirections.',
  },
  own: {
    'clock.jumped': {
      sentence: 'L’horloge de cette machine a été changée de {by}.',
      advice: 'Tout a été replanifié. Si cela revient, laisser un service de temps la tenir (NTP).',
      over: 'Tout a été replanifié.',
    },
    'disk.full': {
      sentence: 'Le disque des données est plein : {left} libres. Constats et sorties ne sont plus gardés.',
      advice: 'Faire de la place sur {folder}. Pannes et messages passent encore, sur une réserve.',
      over: 'Il y a de nouveau de la place ; tout est gardé.',
    },
    'disk.low': {
      sentence: 'Le disque des données est presque plein : {left} libres.',
      advice: 'Faire de la place sur {folder} avant que plus rien ne puisse être gardé.',
      over: 'Il y a de nouveau de la place sur le disque.',
    },
    'key.lost': {
      sentence: 'La clé qui ouvre les secrets n’est pas celle qui les a scellés ({file}).',
      advice: 'Remettre l’ancien fichier de clé à côté de la base, ou entrer chaque secret de nouveau.',
      over: 'Les secrets s’ouvrent de nouveau.',
    },
    'look.stuck': {
      sentence: 'Impossible de regarder {names} : {reason}',
      advice: 'La faute est à cette machine. Rien n’est su des cibles jusqu’à ce qu’elle soit réparée.',
      over: 'Tout est regardé de nouveau.',
    },
    'look.missing': {
      sentence: 'Aucun regard sur {names} n’a fini dans le temps qu’il devrait prendre.',
      advice: 'Cette machine a peut-être trop à faire. Voir sa charge, ou regarder moins souvent.',
      over: 'Tous les regards finissent de nouveau.',
    },
    'channel.stuck': {
      sentence: 'Le canal {name} ne prend aucun message : {said}',
      advice: 'Voir si son adresse tient encore, et envoyer un essai. Ce qui attend partira alors.',
      over: 'Le canal {name} prend de nouveau les messages.',
    },
    'room.deaf': {
      sentence: 'Aucune réponse ne s’entend dans le canal {name} : {reason}',
      advice:
        'Les messages y arrivent peut-être encore. Vérifier ses réglages, ou ne plus y prendre de réponses.',
      over: 'Les réponses s’entendent de nouveau dans le canal {name}.',
    },
    'desk.failing': {
      sentence: 'La partie de Calm Lantern qui dessine les pages et répond à l’API ne tient pas.',
      advice:
        'Le journal de Calm Lantern dit comment elle a fini. Les vérifications, les signes des tâches et les messages continuent sans elle. S’il lui faut plus de mémoire, réglez LANTERN_DESK_MEMORY.',
      over: 'Les pages se dessinent et l’API répond de nouveau.',
    },
    'copy.failed': {
      sentence: 'Aucune copie de la page publique {name} ne peut être faite : {reason}',
      advice:
        'Voyez si l’on peut écrire dans son dossier, ou si l’adresse où elle est déposée accepte des fichiers.',
      over: 'Les copies de la page publique {name} se font de nouveau.',
    },
    'text.broken': {
      sentence: 'Le texte propre {name} ne peut être rempli, le texte fourni est dit : {reason}',
      advice: 'Le regarder sous Messages, et l’y essayer.',
      over: 'Le texte propre {name} se remplit de nouveau.',
    },
  },
  holds: {
    name: 'le nom est connu',
    host: 'l’hôte répond au ping',
    port: 'le port {port} est ouvert',
    certificate: 'le certificat est bon',
    reply: 'une réponse vient',
  },
  silent: 'L’hôte ne répond pas non plus au ping.',
  and: 'et',
};
