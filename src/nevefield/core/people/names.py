"""Names: what they sound like, and which stand for each other."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.texts import plain_letters

if TYPE_CHECKING:
    from numpy.typing import NDArray

__all__ = ["NICKNAMES", "STANDS_FOR", "known_as", "soundex"]

_SOUNDS = {
    **dict.fromkeys("bfpv", "1"),
    **dict.fromkeys("cgjkqsxz", "2"),
    **dict.fromkeys("dt", "3"),
    "l": "4",
    **dict.fromkeys("mn", "5"),
    "r": "6",
}


@lru_cache(200_000)
def soundex(name: str) -> str:
    """Write what a name sounds like: Soundex, as the National Archives of the United States describe it for the census.

    Args:
        name: In small plain letters; of several words all are taken as one.

    >>> soundex("tymczak"), soundex("pfister"), soundex("honeyman"), soundex("ashcraft")
    ('t522', 'p236', 'h555', 'a261')
    """
    letters = name.replace(" ", "")
    if not letters or not letters.isascii():  # of other letters the census says nothing
        return ""
    out, last = letters[0], _SOUNDS.get(letters[0], "")
    for letter in letters[1:]:
        sound = _SOUNDS.get(letter, "")
        if sound and sound != last:
            out += sound
        if letter not in "hw":  # they do not part equal sounds; vowels do
            last = sound
        if len(out) == 4:
            break
    return out.ljust(4, "0")


# Given names that stand for each other, as people use them: a line a name, the one on the birth certificate first.
NICKNAMES = """
alexander alex alec sandy xander sasha lex
alexandra alex sandra sasha lexie alexa
andrew andy drew
anthony tony
benjamin ben benny benji
catherine katherine kathryn kate katie cathy kathy kat kitty cath
charles charlie chuck chas
charlotte charlie lottie
christopher chris kit topher
christine christina chris tina chrissie
daniel dan danny
david dave davy
deborah debbie deb
edward ed eddie ted teddy ned
eleanor ellie nell nora
elizabeth liz lizzie beth betty eliza libby elsie bess lisa
emily em emmy millie
florence flo florrie
francis frank frankie
frances fran frankie fanny
frederick fred freddie
gabriel gabe
gabriella gabrielle gabby ella
george georgie
gerald gerry jerry
gregory greg
harold harry hal
henry harry hal hank
isabella isabel isobel bella izzy
jacob jake
jacqueline jackie
james jim jimmy jamie
jennifer jen jenny
jessica jess jessie
john jack johnny jon
jonathan jon johnny
joseph joe joey
josephine jo josie
joshua josh
joanna jo joanne
katarina katja katya kat
kenneth ken kenny
lawrence laurence larry laurie
leonard len lenny leo
louis lou
louise lou
lucas luke
lucy lucinda
margaret maggie meg peggy madge greta rita
maria mary marie mia
martin marty
matthew matt
matilda tilly mattie
maximilian max
michael mike mick mickey
mohammed muhammad mohamed mohammad mo
natalie nat
nathaniel nathan nat nate
nicholas nick nicky nico
nicola nicky nikki
olivia liv livvy
oliver ollie
pamela pam
patricia pat patsy tricia trish
patrick pat paddy
peter pete
philip phillip phil pip
rachel rach
raymond ray
rebecca becky becca
richard rick dick richie ricky
robert rob bob bobby robbie bert
ronald ron ronnie
rosemary rose rosie
samantha sam sammy
samuel sam sammy
sarah sally sadie
simon si
sophia sophie
stephen steven steve stevie
stephanie steph
susan sue susie suzanne
terence terry
theodore theo ted
theresa teresa tess terry
thomas tom tommy
timothy tim
valentina tina
victoria vicky tori
vincent vince vinny
william will bill billy willy liam
zachary zach zac
"""
# Short forms of other languages, a line a name; and one name in the forms of several languages. Indented lines go on.
SHORT = """
aleksandra ola olenka
agnieszka aga agusia
alejandro alex jandro
alejandra ale jandra
alessandro sandro ale
alfonso fonso poncho
anastasia nastia nastya asya
anna ania anka anya anita anuska nan nancy annie
andrzej jedrek andrzejek
angelica angelika geli angie
annemarie annamaria annemie
antonio tono toni tonio nino tonino
antoni antek tolek
barbara basia barb barbie babs barbel bara baska
bartholomew bart
bartlomiej bartek
birgitta birgit gitta britta gitte brita
bernhard bernd berni
beatriz bea
bronislaw bronek
carmen mamen menchu
carolina caro lina
caroline carrie caro lina
cecilia cissi cilla cecily
charlotta lotta
claudia klaudia
concepcion concha conchita
consuelo chelo
czeslaw czesiek
dietrich dirk dieter
dimitri dima mitya dimitris mimis
dolores lola loli lolita
dorothea dora dorle thea dorothee
dorota dorotka
edeltraud traudl traudel
eduardo edu lalo
elisabeth elisa elli ella elsa else ilse lisa lisbeth liesel betti sisi elsbeth lies lys
elzbieta ela elka
emanuele lele
enrique quique kike
eugenio gene gino
eva evi ewa
ewa ewka ewunia
federico fede kiko
ferdinand ferdi nando
fernando nando
feliks felek
francesca franca cesca
francesco franco ciccio cesco checco
francisca paca paqui fran
francisco paco pancho curro fran kiko quico
francois fanfan
franziska franzi fanny sissi
franciszek franek
friedrich fritz fredi friedel frieder
friederike rike fritzi
gabriela gabi gaby gabrysia
gerhard gerd gerdi
gertrud gerti trude traudi
giovanna gianna vanna
giovanni gianni vanni nanni giannino
giuseppe peppe beppe pino peppino
giuseppina pina
gottfried gotz friedel
grazyna grazynka
grzegorz grzesiek grzes
guadalupe lupe lupita
guillermo guille memo
gustav gustaf gusti
gunther gunter
hannelore hanne lore
hedwig hedi hede
heinrich heinz heiner heini henner hinnerk
helena hela helenka lena
helene lene leni lena
henryk heniek
hildegard hilde hilda
ignacio nacho
ines inesita
irena irka
isabel isa chabela
jadwiga jadzia
jakub kuba
jakob jockel koby
jan janek jasiu jasiek johan
jaroslaw jarek
jerzy jurek jurij
jesus chus chucho suso
joachim jochen achim joa
joao joaozinho
joanna asia joasia
joaquin quino chimo
johanna hanna hanne hanni johana
johann hans hannes hansi johannes hansel
johannes hannes hans johs
jorge coque
jose pepe chepe josep
josef sepp pepi jupp josip pepik
josefa pepa fina josefina
josefina fina pepa
jozef jozek ziutek
jurgen jorg
karl karlheinz kalle charly
karol karolek lolek
katarzyna kasia kaska kasienka
katharina kathi kathe kati katrin kathrin trine ina tina
katarina kata katka kati kajsa
konrad kurt kuno
konstantin kostja kostya kostas
konstantinos kostas kostis dinos
krzysztof krzysiek krzys
krystyna krysia
ksenia ksusha
leonhard leo hartl
leopold poldi
lidia lidka
ludwig lutz wiggerl
lukasz lukaszek
luis lucho
magdalena magda lena leni magdalene malena
malgorzata gosia malgosia goska
manuel manolo manu lolo
manuela manoli manu
marek mareczek
margarete grete gretel gretchen greti grit marga
margareta greta marga
margherita rita ghita
margarita marga rita
maria mari mariechen mitzi mizzi marika marichu maruja masha marysia
mariusz mariuszek
martina tina
mathilde tilde hilde
matthias mattes hias matze
matti matias
maximilian max maxi
mercedes merche
michal michalek misiek
miguel migue micky
mikael micke
mikhail misha mischa
mikolaj miki
mohammed mo hamada mamadou mehmet muhammet mohamad mahomet
montserrat montse
natalia nati natalka natasha natascha talia
nathalie nat
nikolaus klaus niklas nico claus nikki
nikolaos nikos
nikolai kolya nikolaj
olga olya olenka
panagiotis panos takis
patrycja pati
pawel pawelek
per pelle
petr petya
pilar pili
piotr piotrek piotrus
rafael rafa rafi
raimund raimo
rolf rollo
rosalia rosa lia
rosario charo
rosina rosi
rudolf rudi ralf rolf
ryszard rysiek
salvatore toto turi
santiago santi chago diego
sebastian basti bastian seb sebi
sergio checho
sergei seryozha sergej
siegfried sigi siggi
sigrid siri
slawomir slawek
sofia sofi
stanislaw staszek stach stas
stanislav stanley stano
stefan steffen stefek
stefania fanny stefa
susanne susi sanne sanna
svetlana sveta lana
tadeusz tadek
tatiana tanya tanja tania
teresa tere terka resi
theodora dora
theodor theo
theodoros thodoris
therese resi thesi
tomas tomasito tommi
tomasz tomek tomaszek
tobias tobi
ulrich uli ulli
ulrike uli rike
ursula ulla uschi ursel urszula ula
vasili vasya vassilis
vicente chente
viktoria vicki
virgilio gil
vladimir vova volodya vlad
waldemar waldek
walter walt wally walther
wieslaw wiesiek
wilhelm willi wim willem
wilhelmina mina minna willa wilma
wladyslaw wladek
wlodzimierz wlodek
wojciech wojtek
wolfgang wolf wolfi gangl
xavier xavi
yekaterina katya
yelena lena alyona
yevgeny zhenya
zbigniew zbyszek
zdzislaw zdzisiek
zofia zosia zoska
zsofia zsofi
alan al
albert al bert bertie albie
alfred alf fred freddie alfie
abigail abby gail abbie
adelaide addie ada heidi adele
agatha aggie
amanda mandy
antonia toni tonia
archibald archie
arthur art artie
augustus gus augie
augustine gus austin
barnaby barney
bernard bernie barney
bridget biddy bridie
bradley brad
cameron cam
cassandra cassie sandra
cecil cis
clifford cliff
clement clem
constance connie
cornelius neil con corny
cynthia cindy
deirdre dee
dennis den denny
desmond des
diana di
dominic dom nic
donald don donnie
dorothy dot dolly dottie
douglas doug
duncan dunc
eileen ellie
elaine ellie
ernest ernie
esther hettie essie
eugene gene
evelyn evie eve
felicity fliss
ferdinand ferdy
geoffrey geoff jeff jeffrey
georgina georgie gina
geraldine gerry
gillian gill jill
gordon gord
graham gray
gwendolyn gwen
harriet hattie harry
helen nell nellie
herbert herb bert
hilary hil
horace horry
hubert hugh bert
imogen immy
irene rene
janet jan
janice jan
jeremy jem jez jerry
judith judy jude
julia jules julie
julian jules
katrina trina
kimberly kim
leonora nora
lilian lily lil
lorraine lori
lydia lyddie
madeleine maddie maddy madge
malcolm mal
marcus marc mark
marilyn mary
marjorie marge margie
martha patty mattie
maurice morris mo
maxwell max
melanie mel
melissa mel missy
mildred millie
millicent millie
miriam mim
mitchell mitch
montgomery monty
muriel mu
nigel nige
norman norm
octavia tavy
osbert ozzie
oswald ozzie os
penelope penny
percival percy
perpetua pet
philippa pip pippa
prudence prue
quentin quin
ralph rafe
randolph randy
reginald reg reggie
roderick rod rory
rodney rod
roger rodge
rosalind ros
rosamund ros
rudolph rudy
rupert rup
russell russ
selina lina
sheila shell
sidney sid syd
silvester sly
spencer spence
stanley stan
stewart stuart stu
sylvester syl
tabitha tabby
thaddeus tad
tobias toby
ulysses uly
valerie val
vanessa nessa ness
veronica ronnie vera
virginia ginny
vivian viv
wallace wally
walter wally walt
wilfred wilf
winifred winnie freda
winston win
yvonne vonnie
harpreet harry preet
gurpreet gary
abdullah abdul abdallah
abdelrahman abdul abdurrahman rahman
krishnan krish
lakshmi laxmi lax
"""
ABROAD = """
aaron aron haroun harun
abraham ibrahim avraham ebrahim brahim
adam adem adamo
agatha agata
agnes agnieszka ines inez agnese anezka agneta
aisha ayesha aicha aysha ayse aishah
albert alberto albrecht alberte
alexander alejandro alessandro aleksander alexandre alexandros iskander oleksandr aleksandr alexandru sandor alasdair
 alistair aleksandar
alexandra alejandra alessandra aleksandra alexandrine oleksandra
alfonso alphonse alfons
alfred alfredo
alice alicia alicja alix
ali aly
ambrose ambrosius ambrosio
amelia amalia amelie
anastasia anastazja anastasiya
andrew andreas andre andrea andres andrzej andrej andriy andrei andrey anders endre ondrej andrija antero andreja
angela angelika angele aniela andjela
anna ana anne ann hannah hanna anja anya annette anneke anni anais annika ania
anthony antonio anton antoine antoni antonius antal antonin antonis andon
arthur artur arturo
astrid asta
august augusto auguste agoston
barbara varvara bara borbala barbora
bartholomew bartlomiej bartolome bartolomeo bertalan bartholomaus
basil vasili vasil basilio vassilis bazyli vasile
beatrice beatriz beatrix beata
benedict benedikt benito benoit bengt benedetto
benjamin binyamin beniamin
bernard bernhard bernardo bernardino
bridget birgit birgitta brigitte brigida brygida brigitta birgitte
boris borys
carl charles karl carlos carlo karol karel karoly kaarle carolus
caroline carolina karolina karoline
catherine katherine katharina katarina katarzyna catalina caterina ekaterina yekaterina kateryna katerina katrin kathrin
 karin caitlin katalin catarina kari catrin aikaterini ekaterini katja
cecilia cecile cecylia celia
christian kristian christiaan krystian cristian krisztian
christina kristina krystyna cristina christine kirsten kristin
christopher christoph cristobal krzysztof cristoforo christophe kristoffer kristof christos krystof hristofor
clara klara claire chiara klaara
claudia klaudia claude
clement klemens clemente
conrad konrad corrado
constantine konstantin konstantinos constantin costantino
daniel daniele danilo danylo
david dawid davide dafydd daoud dawud davit
deborah debora dvora
demetrius dimitri dmitri dimitrios dmytro dimitar
dennis denis denys dionisio dionysios
dominic dominik domingo domenico dominique
dorothy dorothea dorota dorotea dorothee
edmund edmond edmundo odon
edward eduard eduardo edouard edvard edoardo
eleanor eleonora eleonore leonor elinor
elias ilya ilias eliasz elia elijah ilija
elizabeth elisabeth isabel elisabetta elzbieta isabella isabelle elisabet erzsebet alzbeta elizaveta yelizaveta ilse elspeth
 isobel elisa liisa
emil emilio emile
emily emilia emilie emilija
emma ema
emmanuel manuel emanuel manuele manoel immanuel
erik eric erich eerik erico eirik
ernest ernst ernesto
eugene eugen eugenio yevgeny evgeny eugeniusz yevhen jeno
eva eve ewa yeva evy
fabian fabio fabien
fatima fatma fatemeh fatimah fatoumata
felix feliks felice
ferdinand fernando ferran hernan fernand
florence florentina fiorenza florentyna
florian florent
frances francesca franziska francisca francoise franciszka
francis francisco francesco franz frans franciszek francois ferenc frantisek franjo
frederick friedrich federico fryderyk frederik fredrik frederic frigyes bedrich
gabriel gavriil gabriele
george georg jorge giorgio jerzy georges jorg jurgen goran gyorgy yuri jiri georgios giorgos juraj jordi georgi yuriy jury
 yrjo
gerald gerhard gerardo gerard geraldo
gertrude gertrud gertruda
giles egidio gilles
gregory gregor gregorio grzegorz gregoire grigori grigory gregers hryhoriy reijo
guy guido
hans john
harold harald
hassan hasan
hector ettore
helen helena elena helene olena yelena ilona ellen jelena eleni
henry heinrich enrique henri henrik enrico hendrik henryk harry henrique indrich jindrich heikki
hubert huberto
hugh hugo ugo
hussein hussain husain hossein husayn huseyin
ignatius ignacio ignacy ignazio
irene irena irina iryna irini
isaac ishaq izaak isak ishak
isidore isidoro izydor
jacob james jakob jacques diego jaime santiago giacomo jakub yakub iago jacobo jacek yaakov jaap jakov hamish seamus tiago
 jago
jerome hieronymus geronimo jerome hieronim
jing ching
joachim joaquin jokim yakim gioacchino
joan joanna johanna juana giovanna jeanne jana jane jean ivana ioanna joana janina siobhan sinead hanna janna
john johann johannes juan jan jean giovanni ivan ioannis joao hans sean shaun ian johan jens janos yahya jovan yannis ion
 juhani jon evan iwan jani janek hannes yohannes gianni jonas ivo euan ewan
jonathan yonatan jonatan
joseph jose josef giuseppe jozef yusuf youssef jozsef yosef iosif joe josip yousef yusef joosep osip iosef
josephine josefina giuseppina jozefina josefine josephina
joshua jesus josue yehoshua
judith judit judyta
julia giulia julie yulia julja iulia
julian julien giuliano julian yulian
julius julio giulio juliusz gyula jules
laurence lawrence lorenz lorenzo laurent lars lavrenti wawrzyniec lorinc lauri lorens
leo leon lev leone
leonard leonhard leonardo leonid
lewis louis ludwig luis luigi ludwik lajos luiz lodewijk alois aloysius ludvik clovis
louise luise luisa ludwika lovisa
lucas lukas luke luca lukasz luc lucian lukacs loukas
lucy lucia lucie lucja luzia lusia
magdalene magdalena madeleine maddalena madalena
marcel marcello marcelo marceli
margaret margarete margarita margherita malgorzata margareta marguerite marjorie margit marketa greta gretchen mairead
 marged margriet marit margot merete margaux maret
mark marc marcus marco marek markus marcos marko
martha marta marthe
martin martino marcin morten marten martti marton
mary maria marie miriam maryam mariam maja mirjam mari marya mariya meryem maren moira maire maaria
matilda mathilde matylda mafalda
matthew matthias mateo matteo mateusz matthieu mathias maciej matej matyas matti matvey matthaus
maurice mauricio moritz maurizio maurycy mauritz
maximilian maximiliano maksymilian massimiliano
michael miguel michel michele michal mikhail mikael mihaly mykhailo mihai mikkel michail mihael mika mikko mitchell
mohammed mehmet muhammad
moses moises musa moshe mojzesz
monica monika monique
nadia nadya nadezhda nadine
natalie natalia nataliya natalija
nathan natan
nicholas nikolaus nicolas nicola mikolaj nikolai nikolaos miklos niels nils klaus nicolai mykola nicolae niklas mikulas
noah nuh noe
noor nur nour
octavio ottavio
olaf olav olof
oliver oliwier olivier
oleg oleh
omar umar omer
oscar oskar
othman usman osman uthman
otto otton
patrick patricio patryk padraig patrice patrik patrizio
patricia patrizia patrycja
paul paolo pablo pawel pavel pal pavlo pauli pol paulo pavlos poul paavo
paula paola pola
peter pedro pietro piotr pierre petr petro petros per pieter peder petar peeter piero pekka petteri boutros
philip felipe philippe filip filippo filippos
pius pio
priscilla priska
ralph raul rolf
raphael rafael rafal raffaele
raymond ramon raimund raimondo rajmund
rebecca rebekka rivka rebeka
richard ricardo riccardo ryszard rikard
robert roberto ruprecht rupert
roderick rodrigo
roger ruggero rogelio rudiger
roland rolando orlando
rose rosa roza
rudolph rodolfo rudolf
ruth rut
salma selma
samuel samuele shmuel
sara sarah zahra
sebastian sebastien bastien sebastiano sebastiao
sergius sergei sergio serhiy serge
sigismund zygmunt segismundo zsigmond
simon simeon szymon simone simao semyon shimon
solomon suleiman sulayman salomon suleyman
sophie sophia sofia zofia sofie zsofia sofiya sofija
stanislaus stanislaw estanislao stanislav
stephen stefan esteban stefano etienne szczepan steven istvan stephan stepan stefanos estevao stjepan steffen stephane
 staffan tapani
stephanie stefania estefania stefanie
susan susanne susana zuzanna suzanne zsuzsanna susanna zuzana
sven swen svein svend
sylvia silvia sylwia sylvie
tatiana tatyana tatjana
thaddeus tadeusz tadeo taddeo
theodora teodora fedora
theodore theodor teodor fyodor teodoro fedor
theresa teresa therese terezia tereza
thomas tomas tommaso tomasz toma tamas foma tuomas tomaz tommaso
timothy timoteo tymoteusz timofey timo
tobias tobiasz
tristan tristram
ulrich ulrico ulryk oldrich
ulrike ulrica
ursula urszula orsolya
valentine valentin walenty valentino
veronica veronika weronika veronique
victor viktor wiktor vittorio
victoria viktoria wiktoria vittoria viktoriya
vincent vicente vincenzo wincenty vincenc
vladimir wladimir volodymyr wlodzimierz
walter gualtiero walther gauthier
wenceslas vaclav waclaw venceslao
william wilhelm guillermo guglielmo guillaume vilhelm willem wilhelmus vilem liam gwilym vilmos guilherme uilleam
xavier javier saverio
xin hsin
xiaoming hsiaoming
yan yen
zainab zeynep zaynab zeinab
zachary zacharias zakaria zechariah zachariah
"""
_LISTED = "".join(names.replace("\n ", " ") for names in (NICKNAMES, SHORT, ABROAD))
_LINES = [frozenset(plain_letters(line).split()) for line in _LISTED.split("\n") if line]


def known_as(name: str) -> int:
    """Number a name that others stand for, by its first word; -1 for a name of which no such thing is known."""
    return _NUMBERS.get(name.split(" ", 1)[0], -1)


def _stand_for_each_other() -> tuple[dict[str, int], NDArray[np.bool_]]:
    numbers = {name: place for place, name in enumerate(sorted(frozenset().union(*_LINES)))}
    table = np.zeros((len(numbers) + 1,) * 2, bool)  # the last one for -1: a name that is not there
    for line in _LINES:
        places = [numbers[name] for name in line]
        table[np.ix_(places, places)] = True
    return numbers, table


_NUMBERS, STANDS_FOR = _stand_for_each_other()
