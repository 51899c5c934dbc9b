// Long. A catalogue: one entry a cause, as the English one has them.
import type { CauseWords } from '@/core/causes/cause-words';

export const PT_CAUSES: CauseWords = {
  causes: {
    'name.not-found': {
      sentence: 'O nome {host} não existe.',
      advice: 'Verifique a escrita, e se o domínio foi renovado e os registos ainda lá estão.',
    },
    'name.no-family': {
      sentence: '{host} não tem endereço {family}.',
      advice: 'Acrescente um no servidor de nomes, ou deixe esta vigia aceitar ambos os tipos.',
    },
    'name.server-failed': {
      sentence: 'O servidor de nomes não conseguiu responder por {host}.',
      advice: 'Veja esse servidor ou experimente outro; outros nomes podem ser afetados.',
    },
    'name.timeout': {
      sentence: 'Nenhum servidor de nomes respondeu por {host} em {limit}.',
      advice: 'Veja se está ligado e acessível; outros nomes podem ser afetados.',
    },
    'name.refused': {
      sentence: 'O servidor de nomes recusa responder por {host}.',
      advice: 'Pergunte a um que responda por este nome, ou permita lá esta máquina.',
    },
    'name.no-record': {
      sentence: '{host} não tem registo {type}.',
      advice: 'Acrescente-o no servidor de nomes, ou procure outro tipo.',
    },
    'record.missing': {
      sentence: 'O registo {type} de {host} não contém {expected}; é {got}.',
      advice: 'Compare com o que o servidor de nomes deve dizer; uma mudança demora a chegar.',
    },
    'record.differs': {
      sentence: 'O registo {type} de {host} é {got}, não {expected}.',
      advice: 'Compare com o que o servidor de nomes deve dizer; uma mudança demora a chegar.',
    },
    'record.changed': {
      sentence: 'O registo {type} de {host} mudou de {before} para {got}.',
      advice: 'Se foi de propósito, aceite o novo valor; senão, veja quem pode mudar a zona.',
    },
    'host.no-route': {
      sentence: 'Não há caminho para {address}.',
      advice: 'Verifique se o computador está ligado, o endereço, e a rede pelo meio.',
    },
    'host.silent': {
      sentence: '{host} não responde ao ping.',
      advice: 'O computador pode estar desligado, ou ignorar o ping de propósito: experimente uma porta.',
    },
    'host.loss': {
      sentence: 'Perderam-se {lost} % dos pacotes para {host}, acima do limite de {limit} %.',
      advice: 'Veja a linha pelo meio: cabo mau, linha cheia ou rede sem fios fraca.',
    },
    'host.far': {
      sentence: 'Ir e voltar de {host} leva {took}, mais do que {limit}.',
      advice: 'Veja se a linha está cheia, ou segue outro caminho.',
    },
    'port.refused': {
      sentence: 'O computador está lá, mas nada escuta na porta {port}.',
      advice: 'Inicie o serviço, ou verifique em que porta escuta.',
    },
    'port.timeout': {
      sentence: 'Sem ligação à porta {port} em {limit}.',
      advice: 'O computador pode estar desligado ou uma firewall deita fora o tráfego; tente da mesma rede.',
    },
    'port.closed': {
      sentence: 'A porta {port} aceitou a ligação e fechou-a logo.',
      advice: 'Procure a razão no registo do serviço.',
    },
    'answer.none': {
      sentence: 'A porta {port} não respondeu em {limit}.',
      advice: 'O serviço recebeu o texto e calou-se: veja o registo, e se é isto que espera.',
    },
    'answer.differs': {
      sentence: 'A porta {port} respondeu “{got}”; esperava-se {expected}.',
      advice: 'Veja se outro serviço escuta lá agora, ou se o serviço anuncia um problema seu.',
    },
    'datagram.silent': {
      sentence: 'Sem resposta ao datagrama na porta {port} em {limit}.',
      advice: 'Pacote perdido, firewall e serviço ausente parecem iguais daqui. Veja no próprio computador.',
    },
    'tls.failed': {
      sentence: 'Não foi possível estabelecer a ligação segura: {reason}.',
      advice: 'Verifique se esta porta fala TLS e oferece um protocolo atual.',
    },
    'tls.expired': {
      sentence: 'O certificado expirou há {ago}.',
      advice: 'Renove o certificado, carregue-o no servidor e veja de novo.',
    },
    'tls.not-yet-valid': {
      sentence: 'O certificado só será válido daqui a {ahead}.',
      advice: 'Verifique o relógio desta máquina e as datas do certificado.',
    },
    'tls.wrong-name': {
      sentence: 'O certificado é para {names}, não para {host}.',
      advice: 'Instale um certificado com este nome, ou use um endereço que ele nomeie.',
    },
    'tls.no-names': {
      sentence: 'O certificado não nomeia nenhum computador; só tem o nome comum {subject}.',
      advice: 'Peça-o de novo com o computador como SAN: os navegadores ignoram o nome comum.',
    },
    'tls.chain-expires-soon': {
      sentence: 'O certificado intermédio {name} expira em {left}.',
      advice: 'Carregue no servidor o mais recente que a autoridade oferece.',
    },
    'tls.untrusted': {
      sentence: 'O certificado não é de uma autoridade em que esta máquina confie ({reason}).',
      advice: 'Instale toda a cadeia no servidor, ou dê a conhecer aqui a autoridade.',
    },
    'tls.bad-dates': {
      sentence: 'As datas do certificado não se conseguem ler: {dates}.',
      advice: 'Peça o certificado de novo; as datas não seguem a norma.',
    },
    'tls.expires-soon': {
      sentence: 'O certificado expira em {left}.',
      advice: 'Renove-o a tempo; se se renova sozinho, veja porque ainda não.',
    },
    'tls.expires-urgent': {
      sentence: 'O certificado expira em apenas {left}.',
      advice: 'Renove-o agora e carregue-o no servidor.',
    },
    'tls.weak-key': {
      sentence: 'A chave do certificado é mais fraca do que devia: {key}.',
      advice: 'Peça-o de novo com EC P-256 ou RSA 2048, ou mais forte.',
    },
    'tls.old-protocol': {
      sentence: 'O servidor só aceitou {protocol}, mais antigo do que {least}.',
      advice: 'Ative um protocolo atual no servidor.',
    },
    'tls.not-offered': {
      sentence: 'O servidor da porta {port} não oferece passar a TLS.',
      advice: 'Ative lá STARTTLS, ou veja a porta que fala TLS desde o início.',
    },
    'reply.timeout': {
      sentence: 'Ligado, mas sem resposta em {limit}.',
      advice: 'O serviço está preso ou sobrecarregado: veja a carga e o registo.',
    },
    'reply.unfinished': {
      sentence: 'A resposta começou, mas não ficou completa em {limit}.',
      advice: 'Algo a envia muito devagar, ou sem fim: veja a carga e o registo do serviço.',
    },
    'reply.closed': {
      sentence: 'A ligação fechou-se antes de vir alguma coisa.',
      advice: 'Procure uma falha no registo, ou um proxy à frente sem ninguém a quem perguntar.',
    },
    'reply.broken-pieces': {
      sentence: 'A resposta vem em pedaços que não encaixam (chunked).',
      advice: 'Veja o serviço, ou um proxy à frente que reescreve respostas.',
    },
    'reply.broken-packing': {
      sentence: 'A resposta diz vir comprimida em {encoding}, e não se consegue abrir.',
      advice: 'Veja se algo à frente a comprime duas vezes, ou nenhuma.',
    },
    'reply.cookie-wall': {
      sentence: 'A página devolve todos a si própria até se guardar um cookie.',
      advice: 'Vigie-a como percurso, que guarda cookies, ou veja um endereço atrás dela.',
    },
    'reply.speaks-tls': {
      sentence: 'A porta {port} fala TLS, e foi perguntada sem ele.',
      advice: 'Faça o endereço começar por https.',
    },
    'reply.cut-off': {
      sentence: 'A resposta foi cortada antes de acabar.',
      advice: 'Procure uma falha no registo, ou um proxy que desiste cedo.',
    },
    'reply.unreadable': {
      sentence: 'O que respondeu não fala HTTP: {reason}.',
      advice: 'Verifique a porta, e se o endereço deve começar por http ou https.',
    },
    'reply.redirects': {
      sentence: 'Mais de {limit} redirecionamentos seguidos.',
      advice: 'Duas regras devem andar a passar os visitantes; siga os endereços um a um.',
    },
    'reply.bad-redirect': {
      sentence: 'A resposta redireciona para um endereço que não se pode seguir: {location}.',
      advice: 'Corrija o cabeçalho Location que o servidor envia.',
    },
    'reply.redirected': {
      sentence: 'A resposta redireciona para {location}, e aqui não se quer nenhum redirecionamento.',
      advice: 'Veja se a página mudou; mude então o endereço, ou siga redirecionamentos.',
    },
    'reply.redirect-body': {
      sentence: 'Respondeu {status} e quer o conteúdo enviado para outro sítio, {location}; não foi feito.',
      advice: 'Se a página mudou para lá, vigie esse endereço.',
    },
    'reply.redirect-elsewhere': {
      sentence: 'Leva a {location}, não a {expected}.',
      advice: 'Veja as regras de redirecionamento do servidor.',
    },
    'reply.header-flood': {
      sentence: 'O cabeçalho da resposta é mais longo do que esta máquina lê.',
      advice: 'Veja o que o enche; costuma ser um ciclo que põe cookies.',
    },
    'reply.header': {
      sentence: 'O cabeçalho {header} é {got}; esperava-se {expected}.',
      advice: 'Veja as definições do servidor ou do proxy à frente.',
    },
    'reply.too-small': {
      sentence: 'A resposta tem {size}, menos do que {limit}.',
      advice: 'Abra a página: pode estar vazia ou cortada.',
    },
    'reply.too-large': {
      sentence: 'A resposta passa de {limit}.',
      advice: 'Abra a página: pode ter crescido, ou nunca acabar.',
    },
    'reply.no-upgrade': {
      sentence: 'O servidor não aceitou o WebSocket; respondeu {status}.',
      advice: 'Veja se o endereço está certo e se um proxy deixa passar WebSockets.',
    },
    'reply.proxy': {
      sentence: 'O proxy {proxy} não deixou passar o pedido: {reason}.',
      advice: 'Veja se está ligado, e pode chegar a este endereço.',
    },
    'reply.unexpected': {
      sentence: 'Respondeu “{got}”, e {service} não responde assim.',
      advice: 'Veja se outro serviço escuta agora nesta porta.',
    },
    'reply.status': {
      sentence: 'O servidor responde, mas com {status}.',
      advice: 'Veja o registo do serviço à hora da primeira falha.',
    },
    'text.missing': {
      sentence: 'Faltam na página as palavras “{words}”.',
      advice: 'Abra a página: pode mostrar um erro, ou o texto mudou de propósito.',
    },
    'text.unwanted': {
      sentence: 'As palavras “{words}” estão na página, e não devem.',
      advice: 'Abra a página: pode mostrar um erro.',
    },
    'text.no-match': {
      sentence: 'Nada na página corresponde ao padrão {pattern}.',
      advice: 'Abra a página: pode mostrar um erro, ou o texto mudou de propósito.',
    },
    'text.not-reached': {
      sentence: '{what} não está nos primeiros {read} da página; o resto não foi lido.',
      advice: 'Escolha palavras mais perto do início, ou um endereço mais curto.',
    },
    'json.unreadable': {
      sentence: 'A resposta não é JSON: {reason}.',
      advice: 'Abra o endereço: pode mostrar uma página de erro.',
    },
    'value.none': {
      sentence: 'Não há nada em {what}.',
      advice: 'Veja a própria resposta; a forma pode ter mudado.',
    },
    'value.too-far': {
      sentence: '{what} percorre mais da resposta do que é percorrido.',
      advice:
        'Indique o caminho até ao valor em vez de «..» ou de um filtro, ou peça uma resposta mais curta.',
    },
    'value.differs': {
      sentence: '{what} é {got}; esperava-se {expected}.',
      advice: 'Veja de onde vem o valor; pode ter mudado de propósito.',
    },
    'value.no-number': {
      sentence: 'O que veio para {what} não é um número: {got}.',
      advice: 'Veja a própria resposta: pode lá estar outro valor, ou uma unidade.',
    },
    'value.low': { sentence: '{what} é {value}, abaixo de {limit}.', advice: 'Veja porque desceu.' },
    'value.high': { sentence: '{what} é {value}, acima de {limit}.', advice: 'Veja porque subiu.' },
    'value.low-soon': {
      sentence: '{what} é {value}, abaixo de {limit}, e em breve pode ser pouco.',
      advice: 'Veja porque desce.',
    },
    'value.high-soon': {
      sentence: '{what} é {value}, acima de {limit}, e em breve pode ser demais.',
      advice: 'Veja porque sobe.',
    },
    'value.old': {
      sentence: 'O último valor de {what} tem {age}; são permitidos {limit}.',
      advice: 'Veja se o que o envia ainda funciona.',
    },
    'sign-in.refused': {
      sentence: 'A entrada foi recusada: {said}.',
      advice: 'Verifique nome e palavra-passe, e se a conta pode entrar desta máquina.',
    },
    'sign-in.full': {
      sentence: 'O servidor não aceita mais ligações: {said}.',
      advice: 'Veja quem as tem todas; suba o limite só sabendo porquê.',
    },
    'sign-in.not-ready': {
      sentence: 'O servidor está lá, mas ainda não pronto: {said}.',
      advice: 'Está a arrancar, a parar ou a recuperar: espere um pouco e veja o registo.',
    },
    'command.refused': {
      sentence: 'Respondeu “{said}” a {command}.',
      advice: 'Procure a razão no registo do serviço.',
    },
    'topic.silent': {
      sentence: 'Nada veio no tópico {topic} em {limit}.',
      advice: 'Veja se quem envia ainda funciona e deixa o último valor no intermediário.',
    },
    'container.no-engine': {
      sentence: 'Nenhum motor de contentores responde em {path}.',
      advice: 'Veja se funciona, e se este é o caminho do seu socket.',
    },
    'container.missing': {
      sentence: 'Não há nenhum contentor chamado {name}.',
      advice: 'Veja se foi retirado ou mudou de nome.',
    },
    'container.stopped': {
      sentence: 'O contentor {name} está {state}.',
      advice: 'Veja no registo porque acabou, e inicie-o de novo.',
    },
    'container.unhealthy': {
      sentence: 'O contentor {name} funciona, mas a sua própria verificação diz {health}.',
      advice: 'Veja o registo da verificação.',
    },
    'parts.down': {
      sentence: '{down} de {all} estão em baixo: {names}.',
      advice: 'Veja essas primeiro; esta apenas as junta.',
    },
    'look.broken': {
      sentence: 'Este olhar não pôde ser feito aqui: {reason}.',
      advice: 'A falha é do Calm Lantern ou da sua máquina, não do alvo.',
    },
    'look.no-ping': {
      sentence: 'Esta máquina não consegue enviar ping: {reason}.',
      advice:
        'Instale o ping (em Debian: apt install iputils-ping) e permita-lhe ICMP (setcap cap_net_raw+ep).',
    },
    'look.wrong-key': {
      sentence: 'O certificado do cliente e a sua chave não pertencem um ao outro.',
      advice: 'Cole ambos de novo do mesmo par; até lá nada se sabe do alvo.',
    },
    'look.no-permission': {
      sentence: 'O Calm Lantern não pode abrir {path}.',
      advice: 'Junte a conta ao grupo dono (usermod -aG GRUPO CONTA) e inicie de novo o Calm Lantern.',
    },
    'look.no-line': {
      sentence: 'Esta máquina não conseguia sair de todo.',
      advice: 'Veja a própria linha: cabo, rede sem fios, encaminhador. Até lá nada se conclui.',
    },
    'look.no-parts': {
      sentence: 'Ainda nada se sabe das vigias de que é feita.',
      advice: 'Dirá algo assim que bastantes tenham sido vistas.',
    },
    'checkin.missed': {
      sentence: 'Esperado até {deadline}, mas não veio sinal.',
      advice: 'Veja na máquina da tarefa se arrancou, e se chega a este endereço.',
    },
    'checkin.never': {
      sentence: 'Esperado até {deadline}, mas nunca veio um sinal.',
      advice: 'Talvez a tarefa ainda não avise: ponha uma das linhas prontas e execute-a uma vez.',
    },
    'checkin.failed': {
      sentence: 'A tarefa avisou que falhou.',
      advice: 'Leia a saída que enviou, ou o registo na sua máquina.',
    },
    'checkin.exit-status': {
      sentence: 'A tarefa acabou com o código {code}.',
      advice: 'Leia a saída que enviou, ou o registo na sua máquina.',
    },
    'checkin.unfinished': {
      sentence: 'A tarefa começou às {begun}, mas nunca disse ter acabado.',
      advice: 'Pode estar presa ou ter sido cortada: procure-a na sua máquina.',
    },
    'checkin.doubled': {
      sentence: 'A tarefa começou de novo quando a de {begun} ainda não acabara.',
      advice: 'Duas ao mesmo tempo estorvam-se: que tome um trinco, ou execute-a menos.',
    },
    'checkin.too-soon': {
      sentence: 'A tarefa acabou de novo {gap} depois; deviam passar pelo menos {limit}.',
      advice: 'Veja se está marcada duas vezes, ou é lançada também à mão ou de outra máquina.',
    },
    'checkin.overlong': {
      sentence: 'A tarefa começou às {begun} e dura mais do que os {limit} permitidos.',
      advice: 'Veja se está presa, ou dê-lhe mais tempo se tem mais que fazer.',
    },
  },
  status: {
    '401': 'Pede uma entrada: ponha nome e palavra-passe ou uma ficha para esta vigia, ou corrija-os.',
    '403': 'Sabe quem pergunta e não deixa entrar ninguém: veja as regras, e se esta máquina pode.',
    '404': 'A página não está lá: verifique o endereço, e se a última versão a mudou.',
    '407': 'Um proxy pelo meio pede uma entrada: ponha o nome e a palavra-passe dele.',
    '429': 'Acha que lhe perguntam de mais: veja menos vezes, ou peça exceção para esta máquina.',
    '503': 'Diz ele mesmo que não pode servir: veja a carga, o registo e do que depende.',
    gateway: 'O que responde está à frente do serviço e não chega a ele: veja se o de trás funciona.',
    elsewhere: 'Leva a outro lado: veja o novo endereço, ou siga redirecionamentos.',
  },
  own: {
    'clock.jumped': {
      sentence: 'O relógio desta máquina foi mudado em {by}.',
      advice: 'Tudo foi planeado de novo. Se se repetir, deixe um serviço de horas tratar dele (NTP).',
      over: 'Tudo foi planeado de novo.',
    },
    'disk.full': {
      sentence: 'O disco dos dados está cheio: restam {left}. Novos resultados e saídas não são guardados.',
      advice: 'Faça espaço em {folder}. Falhas e mensagens ainda passam, de uma reserva.',
      over: 'Há de novo espaço; tudo é guardado.',
    },
    'disk.low': {
      sentence: 'O disco dos dados está quase cheio: restam {left}.',
      advice: 'Faça espaço em {folder} antes que nada se possa guardar.',
      over: 'Há de novo espaço no disco.',
    },
    'key.lost': {
      sentence: 'A chave que abre os segredos não é a que os selou ({file}).',
      advice: 'Ponha o ficheiro de chave antigo junto da base de dados, ou escreva de novo cada segredo.',
      over: 'Os segredos abrem-se de novo.',
    },
    'look.stuck': {
      sentence: 'Não é possível ver {names}: {reason}',
      advice: 'A falha está nesta máquina. Até ser reparada nada se sabe dos alvos.',
      over: 'Tudo é visto de novo.',
    },
    'look.missing': {
      sentence: 'Nenhum olhar a {names} acabou no tempo devido.',
      advice: 'Esta máquina pode ter demasiado que fazer. Veja a carga, ou veja menos vezes.',
      over: 'Todos os olhares acabam de novo.',
    },
    'channel.stuck': {
      sentence: 'O canal {name} não aceita mensagens: {said}',
      advice: 'Veja se o endereço ainda vale, e envie um teste. O que espera seguirá então.',
      over: 'O canal {name} aceita de novo mensagens.',
    },
    'room.deaf': {
      sentence: 'No canal {name} não se ouve nenhuma resposta: {reason}',
      advice: 'Talvez as mensagens ainda lá cheguem. Veja as suas definições, ou deixe-o sem respostas.',
      over: 'No canal {name} ouvem-se respostas de novo.',
    },
    'desk.failing': {
      sentence: 'A parte do Calm Lantern que desenha as páginas e responde à API não se mantém de pé.',
      advice:
        'O registo do Calm Lantern diz como terminou. As verificações, os sinais dos trabalhos e as mensagens continuam sem ela. Se precisar de mais memória, defina LANTERN_DESK_MEMORY.',
      over: 'As páginas são desenhadas e a API responde de novo.',
    },
    'copy.failed': {
      sentence: 'Não é possível fazer uma cópia da página pública {name}: {reason}',
      advice: 'Veja se é possível escrever na sua pasta, ou se o endereço onde é posta aceita ficheiros.',
      over: 'As cópias da página pública {name} voltam a ser feitas.',
    },
    'text.broken': {
      sentence: 'O texto próprio {name} não se consegue preencher, diz-se o incluído: {reason}',
      advice: 'Veja-o em Mensagens, e experimente-o lá.',
      over: 'O texto próprio {name} preenche-se de novo.',
    },
  },
  holds: {
    name: 'o nome é conhecido',
    host: 'o computador responde ao ping',
    port: 'a porta {port} está aberta',
    certificate: 'o certificado vale',
    reply: 'há resposta',
  },
  silent: 'O computador também não responde ao ping.',
  and: 'e',
};
