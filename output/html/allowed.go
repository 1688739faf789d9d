package html

import "regexp"

// What a page of a house's template may have. What is not named here is refused: it could fetch, send or run something
// in some browser, now or later.

// elements that a page may have, in HTML and in SVG.
var elements = names(`html head title meta link style body header footer main nav section article aside h1 h2 h3 h4 h5 h6 hgroup p div span a img picture
	source video audio track figure figcaption ul ol li dl dt dd menu table caption thead tbody tfoot tr th td colgroup col blockquote pre code kbd samp var em
	strong b i u s small sub sup mark abbr cite q dfn time data address br hr wbr details summary button input label fieldset legend select option optgroup
	textarea meter progress output ruby rt rp bdi bdo del ins script search
	svg g path rect circle ellipse line polyline polygon text tspan defs symbol use title desc lineargradient radialgradient stop clippath mask marker pattern`)

// drawn are the elements of SVG.
var drawn = names(`svg g path rect circle ellipse line polyline polygon text tspan defs symbol use title desc linearGradient radialGradient stop clipPath mask
	marker pattern`)

// attributes of any element; those of style, of addresses and of script are looked at besides.
var attributes = names(`id class title lang dir style role tabindex hidden href target rel download src alt width height loading decoding poster controls preload loop
	muted playsinline kind srclang default label type media sizes colspan rowspan scope headers span start reversed value datetime charset name content http-equiv
	open for checked disabled selected readonly placeholder min max step low high optimum rows cols maxlength pattern required autocomplete cite translate
	spellcheck contenteditable accesskey abbr align valign xmlns viewbox d x y x1 y1 x2 y2 cx cy r rx ry dx dy points fill stroke stroke-width stroke-linecap
	stroke-linejoin stroke-dasharray stroke-dashoffset stroke-opacity stroke-miterlimit fill-rule fill-opacity clip-rule clip-path mask marker-start marker-mid
	marker-end transform opacity offset stop-color stop-opacity gradientunits gradienttransform patternunits patterntransform patterncontentunits spreadmethod
	clippathunits maskunits maskcontentunits markerwidth markerheight markerunits refx refy orient preserveaspectratio text-anchor dominant-baseline
	font-family font-size font-style font-weight letter-spacing word-spacing text-decoration vector-effect paint-order color display visibility async defer`)

// named are attributes by how they begin.
var named = regexp.MustCompile(`^(aria|data)-[\w.-]+$`)

// properties of CSS that a page may set.
var properties = regexp.MustCompile(`^(--[\w-]+|(-webkit-)?(` +
	`accent-color|align-[a-z]+|all|animation(-[a-z]+)*|appearance|aspect-ratio|backdrop-filter|backface-visibility|background(-[a-z]+)*|block-size|border(-[a-z]+)*|bottom|` +
	`box-[a-z-]+|break-[a-z]+|caption-side|caret-color|clear|clip(-[a-z]+)*|color(-[a-z]+)*|column(s|-[a-z-]+)?|contain(-[a-z-]+)?|content|counter-[a-z]+|cursor|direction|` +
	`display|dominant-baseline|empty-cells|fill(-[a-z]+)?|filter|flex(-[a-z]+)?|float|font(-[a-z-]+)?|forced-color-adjust|gap|grid(-[a-z-]+)?|hanging-punctuation|height|` +
	`hyphen(s|ate-[a-z-]+)|image-rendering|initial-letter|inline-size|inset(-[a-z-]+)?|isolation|justify-[a-z]+|left|letter-spacing|line-(break|height)|list-style(-[a-z]+)?|` +
	`margin(-[a-z-]+)?|marker(-[a-z]+)?|mask(-[a-z-]+)?|max-[a-z-]+|min-[a-z-]+|mix-blend-mode|object-(fit|position)|opacity|order|orphans|outline(-[a-z]+)?|overflow(-[a-z-]+)?|` +
	`overscroll-behavior(-[a-z]+)?|padding(-[a-z-]+)?|page(-break-[a-z]+)?|paint-order|perspective(-origin)?|place-[a-z]+|pointer-events|position|print-color-adjust|quotes|resize|` +
	`right|rotate|row-gap|scale|scroll-[a-z-]+|shape-[a-z-]+|size|stop-(color|opacity)|stroke(-[a-z]+)*|tab-size|table-layout|text-[a-z-]+|top|touch-action|transform(-[a-z]+)?|` +
	`transition(-[a-z-]+)?|translate|unicode-(bidi|range)|user-select|vector-effect|vertical-align|visibility|white-space(-[a-z]+)?|widows|width|will-change|word-[a-z]+|` +
	`writing-mode|z-index|zoom|src|descriptors|system|symbols|suffix|prefix|range|pad|fallback|marks|bleed))$`)

// rules of CSS that a page may have.
var rules = names("@media @page @font-face @supports @keyframes @-webkit-keyframes @counter-style @layer @container @property")
