// Long. A catalogue: one entry a cause, as the English one has them.
import type { CauseWords } from '@/core/causes/cause-words';

export const ES_CAUSES: CauseWords = {
  causes: {
    'name.not-found': {
      sentence: 'El nombre {host} no existe.',
      advice: 'Revise la escritura, y si el dominio se renovó y sus registros siguen ahí.',
    },
    'name.no-family': {
      sentence: '{host} no tiene dirección {family}.',
      advice: 'Añada una en el servidor de nombres, o permita ambas clases a esta vigilancia.',
    },
    'name.server-failed': {
      sentence: 'El servidor de nombres no pudo responder por {host}.',
      advice: 'Mire ese servidor o pruebe otro; puede afectar a más nombres.',
    },
    'name.timeout': {
      sentence: 'Ningún servidor de nombres respondió por {host} en {limit}.',
      advice: 'Mire si está encendido y accesible; puede afectar a más nombres.',
    },
    'name.refused': {
      sentence: 'El servidor de nombres se niega a responder por {host}.',
      advice: 'Pregunte a uno que responda por este nombre, o permita allí esta máquina.',
    },
    'name.no-record': {
      sentence: '{host} no tiene registro {type}.',
      advice: 'Añádalo en el servidor de nombres, o busque otra clase.',
    },
    'record.missing': {
      sentence: 'El registro {type} de {host} no contiene {expected}; es {got}.',
      advice: 'Compare con lo que debe decir el servidor de nombres; un cambio tarda en llegar.',
    },
    'record.differs': {
      sentence: 'El registro {type} de {host} es {got}, no {expected}.',
      advice: 'Compare con lo que debe decir el servidor de nombres; un cambio tarda en llegar.',
    },
    'record.changed': {
      sentence: 'El registro {type} de {host} cambió de {before} a {got}.',
      advice: 'Si era lo previsto, tome el valor nuevo; si no, mire quién puede cambiar la zona.',
    },
    'host.no-route': {
      sentence: 'No hay ruta hacia {address}.',
      advice: 'Compruebe que el equipo está encendido, su dirección, y la red de por medio.',
    },
    'host.silent': {
      sentence: '{host} no responde al ping.',
      advice: 'El equipo puede estar apagado, o ignorar el ping a propósito: pruebe un puerto.',
    },
    'host.loss': {
      sentence: 'Se perdió el {lost} % de los paquetes hacia {host}, más del límite del {limit} %.',
      advice: 'Mire la línea de por medio: un cable malo, una línea cargada o una red inalámbrica débil.',
    },
    'host.far': {
      sentence: 'Ir y volver de {host} tarda {took}, más de {limit}.',
      advice: 'Mire si la línea está cargada, o toma otro camino.',
    },
    'port.refused': {
      sentence: 'El equipo está, pero nada escucha en el puerto {port}.',
      advice: 'Arranque el servicio, o compruebe en qué puerto escucha.',
    },
    'port.timeout': {
      sentence: 'Sin conexión al puerto {port} en {limit}.',
      advice: 'El equipo puede estar apagado o un cortafuegos tira el tráfico; pruebe desde la misma red.',
    },
    'port.closed': {
      sentence: 'El puerto {port} aceptó la conexión y la cerró enseguida.',
      advice: 'Busque la razón en el registro del servicio.',
    },
    'answer.none': {
      sentence: 'El puerto {port} no respondió en {limit}.',
      advice: 'El servicio tomó el texto y calló: mire su registro, y si es lo que espera.',
    },
    'answer.differs': {
      sentence: 'El puerto {port} respondió «{got}»; se esperaba {expected}.',
      advice: 'Mire si ahora escucha otro servicio, o el servicio avisa de un problema propio.',
    },
    'datagram.silent': {
      sentence: 'Sin respuesta al datagrama en el puerto {port} en {limit}.',
      advice: 'Un paquete perdido, un cortafuegos y un servicio ausente se ven igual. Mire en el equipo.',
    },
    'tls.failed': {
      sentence: 'No se pudo establecer la conexión segura: {reason}.',
      advice: 'Compruebe que este puerto habla TLS y ofrece un protocolo actual.',
    },
    'tls.expired': {
      sentence: 'El certificado caducó hace {ago}.',
      advice: 'Renueve el certificado, cárguelo en el servidor y mire otra vez.',
    },
    'tls.not-yet-valid': {
      sentence: 'El certificado solo será válido dentro de {ahead}.',
      advice: 'Revise el reloj de esta máquina y las fechas del certificado.',
    },
    'tls.wrong-name': {
      sentence: 'El certificado es para {names}, no para {host}.',
      advice: 'Instale un certificado con este nombre, o use una dirección que nombre.',
    },
    'tls.no-names': {
      sentence: 'El certificado no nombra ningún equipo; solo tiene el nombre común {subject}.',
      advice: 'Pídalo de nuevo con el equipo como SAN: los navegadores ignoran el nombre común.',
    },
    'tls.chain-expires-soon': {
      sentence: 'El certificado intermedio {name} caduca en {left}.',
      advice: 'Cargue en el servidor el más nuevo que ofrece su autoridad.',
    },
    'tls.untrusted': {
      sentence: 'El certificado no es de una autoridad en la que confíe esta máquina ({reason}).',
      advice: 'Instale toda la cadena en el servidor, o dé a conocer aquí su autoridad.',
    },
    'tls.bad-dates': {
      sentence: 'Las fechas del certificado no se pueden leer: {dates}.',
      advice: 'Pida el certificado de nuevo; sus fechas no siguen la norma.',
    },
    'tls.expires-soon': {
      sentence: 'El certificado caduca en {left}.',
      advice: 'Renuévelo a tiempo; si se renueva solo, mire por qué aún no.',
    },
    'tls.expires-urgent': {
      sentence: 'El certificado caduca en solo {left}.',
      advice: 'Renuévelo ahora y cárguelo en el servidor.',
    },
    'tls.weak-key': {
      sentence: 'La clave del certificado es más débil de lo debido: {key}.',
      advice: 'Pídalo de nuevo con EC P-256 o RSA 2048, o más fuerte.',
    },
    'tls.old-protocol': {
      sentence: 'El servidor solo aceptó {protocol}, más viejo que {least}.',
      advice: 'Active un protocolo actual en el servidor.',
    },
    'tls.not-offered': {
      sentence: 'El servidor del puerto {port} no ofrece pasar a TLS.',
      advice: 'Active allí STARTTLS, o mire el puerto que habla TLS desde el principio.',
    },
    'reply.timeout': {
      sentence: 'Conectado, pero sin respuesta en {limit}.',
      advice: 'El servicio está colgado o saturado: mire su carga y su registro.',
    },
    'reply.unfinished': {
      sentence: 'La respuesta empezó, pero no se completó en {limit}.',
      advice: 'Algo la envía muy despacio, o sin fin: mire la carga y el registro del servicio.',
    },
    'reply.closed': {
      sentence: 'La conexión se cerró antes de que llegara nada.',
      advice: 'Busque una caída en el registro, o un proxy delante que no tiene a quién preguntar.',
    },
    'reply.broken-pieces': {
      sentence: 'La respuesta llega en trozos que no encajan (chunked).',
      advice: 'Mire el servicio, o un proxy delante que reescribe respuestas.',
    },
    'reply.broken-packing': {
      sentence: 'La respuesta dice venir comprimida en {encoding}, y no se puede descomprimir.',
      advice: 'Mire si algo delante la comprime dos veces, o ninguna.',
    },
    'reply.cookie-wall': {
      sentence: 'La página devuelve a todos a sí misma hasta que se guarda una cookie.',
      advice: 'Vigílela como recorrido, que guarda cookies, o mire una dirección detrás.',
    },
    'reply.speaks-tls': {
      sentence: 'El puerto {port} habla TLS, y se le preguntó sin él.',
      advice: 'Que la dirección empiece por https.',
    },
    'reply.cut-off': {
      sentence: 'La respuesta se cortó antes de completarse.',
      advice: 'Busque una caída en el registro, o un proxy que se rinde pronto.',
    },
    'reply.unreadable': {
      sentence: 'Lo que respondió no habla HTTP: {reason}.',
      advice: 'Revise el puerto, y si la dirección debe empezar por http o https.',
    },
    'reply.redirects': {
      sentence: 'Más de {limit} redirecciones seguidas.',
      advice: 'Dos reglas se pasan a los visitantes; siga las direcciones una a una.',
    },
    'reply.bad-redirect': {
      sentence: 'La respuesta redirige a una dirección que no se puede seguir: {location}.',
      advice: 'Corrija la cabecera Location que envía el servidor.',
    },
    'reply.redirected': {
      sentence: 'La respuesta redirige a {location}, y aquí no se quiere ninguna redirección.',
      advice: 'Mire si la página se mudó; cambie entonces la dirección, o siga las redirecciones.',
    },
    'reply.redirect-body': {
      sentence: 'Respondió {status} y quiere el contenido enviado a otro sitio, {location}; no se hizo.',
      advice: 'Si la página se mudó allí, vigile esa dirección.',
    },
    'reply.redirect-elsewhere': {
      sentence: 'Lleva a {location}, no a {expected}.',
      advice: 'Mire las reglas de redirección del servidor.',
    },
    'reply.header-flood': {
      sentence: 'La cabecera de la respuesta es más larga de lo que lee esta máquina.',
      advice: 'Mire qué la llena; suele ser un bucle que pone cookies.',
    },
    'reply.header': {
      sentence: 'La cabecera {header} es {got}; se esperaba {expected}.',
      advice: 'Mire los ajustes del servidor o del proxy delante.',
    },
    'reply.too-small': {
      sentence: 'La respuesta mide {size}, menos de {limit}.',
      advice: 'Abra la página: puede estar vacía o cortada.',
    },
    'reply.too-large': {
      sentence: 'La respuesta pasa de {limit}.',
      advice: 'Abra la página: puede haber crecido, o no acabar nunca.',
    },
    'reply.no-upgrade': {
      sentence: 'El servidor no aceptó el WebSocket; respondió {status}.',
      advice: 'Mire si la dirección es correcta y un proxy deja pasar WebSockets.',
    },
    'reply.proxy': {
      sentence: 'El proxy {proxy} no dejó pasar la petición: {reason}.',
      advice: 'Mire si está encendido, y puede llegar a esta dirección.',
    },
    'reply.unexpected': {
      sentence: 'Respondió «{got}», y así no responde {service}.',
      advice: 'Mire si ahora escucha otro servicio en este puerto.',
    },
    'reply.status': {
      sentence: 'El servidor responde, pero con {status}.',
      advice: 'Mire el registro del servicio a la hora del primer fallo.',
    },
    'text.missing': {
      sentence: 'Faltan en la página las palabras «{words}».',
      advice: 'Abra la página: puede mostrar un error, o el texto cambió a propósito.',
    },
    'text.unwanted': {
      sentence: 'Las palabras «{words}» están en la página, y no deben.',
      advice: 'Abra la página: puede mostrar un error.',
    },
    'text.no-match': {
      sentence: 'Nada en la página encaja con el patrón {pattern}.',
      advice: 'Abra la página: puede mostrar un error, o su texto cambió a propósito.',
    },
    'text.not-reached': {
      sentence: '{what} no está en los primeros {read} de la página; lo demás no se leyó.',
      advice: 'Elija palabras más cerca del principio, o una dirección más corta.',
    },
    'json.unreadable': {
      sentence: 'La respuesta no es JSON: {reason}.',
      advice: 'Abra la dirección: puede mostrar una página de error.',
    },
    'value.none': {
      sentence: 'No hay nada en {what}.',
      advice: 'Mire la respuesta misma; su forma puede haber cambiado.',
    },
    'value.too-far': {
      sentence: '{what} lleva por más partes de la respuesta de las que se recorren.',
      advice:
        'Indique el camino hasta el valor en lugar de «..» o de un filtro, o pida una respuesta más corta.',
    },
    'value.differs': {
      sentence: '{what} es {got}; se esperaba {expected}.',
      advice: 'Mire de dónde viene el valor; puede haber cambiado a propósito.',
    },
    'value.no-number': {
      sentence: 'Lo que vino para {what} no es un número: {got}.',
      advice: 'Mire la respuesta misma: puede haber otro valor, o una unidad.',
    },
    'value.low': { sentence: '{what} es {value}, bajo {limit}.', advice: 'Mire por qué ha bajado.' },
    'value.high': { sentence: '{what} es {value}, sobre {limit}.', advice: 'Mire por qué ha subido.' },
    'value.low-soon': {
      sentence: '{what} es {value}, bajo {limit}, y pronto puede ser poco.',
      advice: 'Mire por qué baja.',
    },
    'value.high-soon': {
      sentence: '{what} es {value}, sobre {limit}, y pronto puede ser demasiado.',
      advice: 'Mire por qué sube.',
    },
    'value.old': {
      sentence: 'El último valor de {what} tiene {age}; se permiten {limit}.',
      advice: 'Mire si lo que lo envía sigue en marcha.',
    },
    'sign-in.refused': {
      sentence: 'Se rechazó la entrada: {said}.',
      advice: 'Revise nombre y contraseña, y si la cuenta puede entrar desde esta máquina.',
    },
    'sign-in.full': {
      sentence: 'El servidor no acepta más conexiones: {said}.',
      advice: 'Mire quién las tiene todas; suba el límite solo sabiendo por qué.',
    },
    'sign-in.not-ready': {
      sentence: 'El servidor está, pero aún no listo: {said}.',
      advice: 'Arranca, para o se recupera: espere un poco y mire su registro.',
    },
    'command.refused': {
      sentence: 'Respondió «{said}» a {command}.',
      advice: 'Busque la razón en el registro del servicio.',
    },
    'topic.silent': {
      sentence: 'No llegó nada al tema {topic} en {limit}.',
      advice: 'Mire si quien lo envía sigue en marcha y deja su último valor en el intermediario.',
    },
    'container.no-engine': {
      sentence: 'Ningún motor de contenedores responde en {path}.',
      advice: 'Mire si está en marcha, y si esta es la ruta de su socket.',
    },
    'container.missing': {
      sentence: 'No hay ningún contenedor llamado {name}.',
      advice: 'Mire si se quitó o cambió de nombre.',
    },
    'container.stopped': {
      sentence: 'El contenedor {name} está {state}.',
      advice: 'Mire en su registro por qué acabó, y arránquelo de nuevo.',
    },
    'container.unhealthy': {
      sentence: 'El contenedor {name} funciona, pero su propia comprobación dice {health}.',
      advice: 'Mire el registro de su comprobación.',
    },
    'parts.down': {
      sentence: '{down} de {all} están caídas: {names}.',
      advice: 'Mire esas primero; esta solo las reúne.',
    },
    'look.broken': {
      sentence: 'Esta mirada no se pudo hacer aquí: {reason}.',
      advice: 'El fallo es de Calm Lantern o de su máquina, no del objetivo.',
    },
    'look.no-ping': {
      sentence: 'Esta máquina no puede enviar ping: {reason}.',
      advice: 'Instale ping (en Debian: apt install iputils-ping) y permítale ICMP (setcap cap_net_raw+ep).',
    },
    'look.wrong-key': {
      sentence: 'El certificado del cliente y su clave no van juntos.',
      advice: 'Pegue de nuevo ambos del mismo par; hasta entonces nada se sabe del objetivo.',
    },
    'look.no-permission': {
      sentence: 'Calm Lantern no puede abrir {path}.',
      advice: 'Añada su cuenta al grupo dueño (usermod -aG GRUPO CUENTA) y arranque Calm Lantern de nuevo.',
    },
    'look.no-line': {
      sentence: 'Esta máquina no podía salir en absoluto.',
      advice: 'Mire su propia línea: cable, red inalámbrica, enrutador. Hasta entonces nada se concluye.',
    },
    'look.no-parts': {
      sentence: 'Aún no se sabe nada de las vigilancias que la forman.',
      advice: 'Dirá algo en cuanto se hayan mirado bastantes.',
    },
    'checkin.missed': {
      sentence: 'Se esperaba antes de {deadline}, pero no llegó aviso.',
      advice: 'Mire en la máquina de la tarea si arrancó, y si llega a esta dirección.',
    },
    'checkin.never': {
      sentence: 'Se esperaba antes de {deadline}, pero nunca ha llegado un aviso.',
      advice: 'Quizá la tarea aún no avisa: ponga una de las líneas listas y ejecútela una vez.',
    },
    'checkin.failed': {
      sentence: 'La tarea avisó de que falló.',
      advice: 'Lea la salida que envió, o su registro en su máquina.',
    },
    'checkin.exit-status': {
      sentence: 'La tarea acabó con el código {code}.',
      advice: 'Lea la salida que envió, o su registro en su máquina.',
    },
    'checkin.unfinished': {
      sentence: 'La tarea empezó a las {begun}, pero nunca dijo haber acabado.',
      advice: 'Puede estar colgada o haber sido cortada: búsquela en su máquina.',
    },
    'checkin.doubled': {
      sentence: 'La tarea empezó otra vez cuando la de {begun} no había acabado.',
      advice: 'Dos a la vez se estorban: que tome un cerrojo, o ejecútela menos.',
    },
    'checkin.too-soon': {
      sentence: 'La tarea acabó otra vez {gap} después; debería haber al menos {limit} entre ambas.',
      advice: 'Mire si está programada dos veces, o se lanza también a mano o desde otra máquina.',
    },
    'checkin.overlong': {
      sentence: 'La tarea empezó a las {begun} y dura más de los {limit} permitidos.',
      advice: 'Mire si está colgada, o dele más tiempo si tiene más que hacer.',
    },
  },
  status: {
    '401': 'Pide una entrada: ponga nombre y contraseña o una ficha para esta vigilancia, o corríjalos.',
    '403': 'Sabe quién pregunta y no deja entrar a nadie: mire sus reglas, y si esta máquina puede.',
    '404': 'La página no está: revise la dirección, y si la última versión la movió.',
    '407': 'Un proxy de por medio pide una entrada: ponga su nombre y contraseña.',
    '429': 'Cree que se le pregunta demasiado: mire menos, o haga que excluya esta máquina.',
    '503': 'Dice él mismo que no puede atender: mire su carga, su registro y de qué depende.',
    gateway: 'Lo que responde está delante del servicio y no llega a él: mire si el de detrás funciona.',
    elsewhere: 'Lleva a otra parte: mire la dirección nueva, o siga las redirecciones.',
  },
  own: {
    'clock.jumped': {
      sentence: 'El reloj de esta máquina se cambió en {by}.',
      advice: 'Todo se planificó de nuevo. Si se repite, que un servicio de hora lo lleve (NTP).',
      over: 'Todo se planificó de nuevo.',
    },
    'disk.full': {
      sentence: 'El disco de datos está lleno: quedan {left}. No se guardan hallazgos ni salidas nuevas.',
      advice: 'Haga sitio en {folder}. Las caídas y los mensajes aún pasan, de una reserva.',
      over: 'Vuelve a haber sitio; todo se guarda.',
    },
    'disk.low': {
      sentence: 'El disco de datos está casi lleno: quedan {left}.',
      advice: 'Haga sitio en {folder} antes de que no se pueda guardar nada.',
      over: 'Vuelve a haber sitio en el disco.',
    },
    'key.lost': {
      sentence: 'La llave que abre los secretos no es con la que se sellaron ({file}).',
      advice: 'Ponga el fichero de llave antiguo junto a la base de datos, o escriba cada secreto de nuevo.',
      over: 'Los secretos se pueden abrir de nuevo.',
    },
    'look.stuck': {
      sentence: 'No se puede mirar {names}: {reason}',
      advice: 'El fallo está en esta máquina. Hasta arreglarlo nada se sabe de los objetivos.',
      over: 'Se mira de nuevo en todas partes.',
    },
    'look.missing': {
      sentence: 'Ninguna mirada a {names} acabó en el tiempo debido.',
      advice: 'Esta máquina puede tener demasiado que hacer. Mire su carga, o mire menos a menudo.',
      over: 'Todas las miradas acaban de nuevo.',
    },
    'channel.stuck': {
      sentence: 'El canal {name} no acepta mensajes: {said}',
      advice: 'Mire si su dirección sigue valiendo, y envíe una prueba. Lo que espera saldrá entonces.',
      over: 'El canal {name} vuelve a aceptar mensajes.',
    },
    'room.deaf': {
      sentence: 'En el canal {name} no se oye ninguna respuesta: {reason}',
      advice: 'Puede que los mensajes sigan llegando. Revise sus ajustes, o que no acepte respuestas.',
      over: 'En el canal {name} se oyen respuestas de nuevo.',
    },
    'desk.failing': {
      sentence:
        'La parte de Calm Lantern que dibuja las páginas y responde a la API no se mantiene en marcha.',
      advice:
        'El registro de Calm Lantern dice cómo terminó. Las comprobaciones, los avisos de los trabajos y los mensajes siguen sin ella. Si necesita más memoria, ajuste LANTERN_DESK_MEMORY.',
      over: 'Las páginas se dibujan y la API responde de nuevo.',
    },
    'copy.failed': {
      sentence: 'No se puede hacer ninguna copia de la página pública {name}: {reason}',
      advice: 'Mire si se puede escribir en su carpeta, o si la dirección donde se deja acepta archivos.',
      over: 'Las copias de la página pública {name} se hacen de nuevo.',
    },
    'text.broken': {
      sentence: 'El texto propio {name} no se puede completar, se dice el incluido: {reason}',
      advice: 'Mírelo en Mensajes, y pruébelo allí.',
      over: 'El texto propio {name} se puede completar de nuevo.',
    },
  },
  holds: {
    name: 'el nombre se conoce',
    host: 'el equipo responde al ping',
    port: 'el puerto {port} está abierto',
    certificate: 'el certificado vale',
    reply: 'hay respuesta',
  },
  silent: 'El equipo tampoco responde al ping.',
  and: 'y',
};
