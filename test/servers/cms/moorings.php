<?php
// Ids under names with a word for a thing, beside words that say what they are, in names of settings and in code; and numbers that are measures: php moorings.php SITE-FOLDER dev|live ADDRESS
require __DIR__ . '/begin.php';
global $wpdb;
foreach (['mr_buoy', 'mr_field', 'mr_level'] as $type) register_post_type($type, ['public' => false]);
register_taxonomy('mr_depth', ['mr_buoy']);
// On the development site no id is like a number that means something else.
foreach (['posts' => 71000, 'terms' => 81000, 'term_taxonomy' => 91000] as $table => $from) if ($dev) $wpdb->query("alter table {$wpdb->prefix}$table auto_increment = $from");
[$piers, $crew] = [entry('page', 'piers', 'Piers', ['post_content' => 'Piers']), entry('page', 'crew', 'Crew', ['post_content' => 'Crew'])];
$storms = wp_insert_term('Storms', 'category', ['slug' => 'storms'])['term_id'];
if (!$dev) return;
$anchor = plain('anchor', 'anchor');
[$bell, $whistle] = [entry('mr_buoy', 'bell', 'Bell'), entry('mr_buoy', 'whistle', 'Whistle')];
$deep = wp_insert_term('Deep', 'mr_depth', ['slug' => 'deep'])['term_id'];
update_option('mr_words', ['page_list' => "$piers\n$crew", 'pages_json' => json_encode([$piers, $crew]), 'imgs' => [$anchor], 'bg_img' => $anchor, 'category__in' => [$storms], 'category__not_in' => (string) $storms, 'cat' => $storms, 'Thank You Page' => $piers, 'pageId' => $crew, 'created_by' => 1]);
update_option('mr_beside', [
  ['type' => 'specific_pages', 'items' => [$piers, $crew]], ['target' => 'page_selected', 'selected' => [$piers]], ['target' => 'post_category_selected', 'selected' => [$storms]], ['action' => 'page', 'value' => $crew],
  ['source' => 'post_type:mr_buoy', 'value' => $bell], ['kind' => 'mr_buoy_single', 'value' => $whistle], ['kind' => 'term', 'taxonomy' => 'category', 'id' => $storms], ['type' => 'post_object', 'default_value' => $piers],
]);
// These are ids too, by chance.
[$fares, $contact] = [there('page', 'fares'), there('page', 'contact')];
update_option('mr_measures', ['grid' => $fares, 'image_width' => $contact, 'posts_per_page' => $fares, 'paid' => $contact, 'show_image' => $fares, 'popup_delay' => $contact, 'number_of_pages' => $contact, 'posts_to_show' => $contact]);
foreach (["category_$storms" => ['colour' => '#112233'], "mr_depth_{$deep}_image" => $anchor, "taxonomy_$storms" => 1, "mr_global_$bell" => 'x', "page_{$piers}_layout" => 'wide', 'mr_top_12' => 'no id'] as $name => $value) update_option($name, $value);
update_option('mr_default', $bell);
// What is a secret, and what only speaks of one.
update_option('mr_access', ['password_label' => 'Word', 'password_length' => 8, 'require_password' => '1', 'lost_password_page' => $piers, 'design_token' => 'sea', 'token' => 'hush-1', 'bot_token' => 'hush-2', 'smtp' => ['host' => 'mail', 'pass' => 'hush-3'], 'accessKey' => 'hush-4', 'admin_password' => 'hush-5', 'boarding_pass' => 'blue']);
set_theme_mod('mr_maps_api_key', 'hush-6');
update_option('mr_order', [$bell => [$whistle], $whistle => []]);
update_option('mr_code', "if (is_page($piers) || is_page( array( $piers, $crew ) )) return get_permalink( $crew ) . get_post($bell)->post_title;");
// Fields of which only a definition says what they hold: its key stands beside the value, under the same name with a line before it.
$fields = ['leads' => ['post_object', $piers], 'chart' => ['file', $anchor], 'kindred' => ['relationship', [(string) $crew, (string) $piers]], 'subject' => ['taxonomy', [(string) $storms]], 'berths' => ['number', 12]];
$values = [];
foreach ($fields as $name => [$sort, $value]) {
  entry('mr_field', "field_mr_$name", ucfirst($name), ['post_excerpt' => $name, 'post_content' => serialize(['type' => $sort, 'required' => 0])]);
  $values += [$name => $value, "_$name" => "field_mr_$name"];
  if ($sort === 'post_object') foreach (["mr_page_$name" => $value, "_mr_page_$name" => "field_mr_$name", "mr_bare_$name" => 7] as $option => $kept) update_option($option, $kept);
}
entry('mr_buoy', 'light', 'Light', [], $values);
// The same in a block: what defines a value says more there too than its name.
entry('wp_block', 'defined', 'Defined', ['post_content' => '<!-- wp:mr/field ' . json_encode(['name' => 'mr/field', 'data' => $values]) . ' /-->']);
// What is called as the very thing, though the word is one for a measure; lists in short codes; elements of an extension.
$level = entry('mr_level', 'low', 'Low');
entry('wp_block', 'levels', 'Levels', ['post_content' => "<!-- wp:mr/levels {\"level\":\"$level\",\"columns\":4} /-->[mr_list buoy=\"$bell,$whistle\"]<mr-map page-id=\"$piers\"></mr-map>"]);
update_option('mr_filters', wp_json_encode([['field' => 'id', 'op' => 'NOT IN', 'val' => [$bell]], ['field' => 'buoy', 'val' => (string) $whistle], ['item' => "image:$anchor", 'media' => "attachment://$anchor", 'mr_bgid' => $anchor], ['page' => $piers, 'next' => $crew]]));
foreach (['mr_shown' => ['pages_to_show' => [$piers], 'on' => "ids:$piers,$crew"], 'mr_rule' => ['param' => 'post', 'value' => (string) $bell]] as $name => $value) update_option($name, $value);
entry('wp_block', 'card', 'Card', ['post_content' => "<!-- wp:mr/card {\"backgroundImage\":$anchor,\"selectedPages\":[$piers,\"$crew\"],\"categoryFilter\":[$storms],\"imageWidth\":640,\"postsToShow\":12} /-->"]);
// Styles and code of an extension, what a script is given, menus with their own fields, and settings of two of a sort.
[$berth, $second] = [entry('mr_buoy', 'berth', 'Berth'), entry('mr_buoy', 'second', 'Second')];
update_option('mr_styles', "#mr_buoy-$berth-field, .mr_buoy-{$berth}_x, .mr-$second .part, a.mr-$berth { color: red }");
$wpdb->update($wpdb->posts, ['post_content' => "<script>open({\"buoyId\":$berth}); mrBuoy.open($second); mr_buoy( $berth );</script>[mr_buoy $berth] [mr_row global_part=\"$second\" attachment=\"$anchor\"] <a href=\"?add-to-cart=$berth\">x</a>"], ['ID' => entry('mr_buoy', 'script', 'Script', ['post_content' => 'x'])]);
$wpdb->update($wpdb->posts, ['post_content' => "<?php get_posts(['post__in' => [ $berth, $second ], 'page_id' => $piers, 'post__not_in' => array($bell)]); if (!in_array(get_the_ID(), [ $piers, $crew ], true) && \$page_id == $crew) wp_list_pages('exclude=$piers,$crew');"], ['ID' => entry('mr_buoy', 'code', 'Code', ['post_content' => 'x'])]);
$menu = wp_create_nav_menu('Jetty');
$entry = wp_update_nav_menu_item($menu, 0, ['menu-item-title' => 'Bell', 'menu-item-url' => "#buoy-$bell", 'menu-item-classes' => "buoy-$bell", 'menu-item-type' => 'custom', 'menu-item-status' => 'publish']);
add_term_meta($menu, 'mr_style', ['image' => $anchor]);
update_option('nav_menu_options', ['auto_add' => [$menu]]);
update_post_meta($entry, '_mr_entry', wp_json_encode(['icon' => $anchor]));
foreach (['mr_menus' => ['top' => $menu, 'foot' => 0], 'mr_ends' => ['buoy' => ['from' => $bell, 'to' => $whistle]], 'mr_thumb' => ['thumb' => ['id' => $anchor]], 'mr_set' => ['bell' => $bell], 'mr_manual' => ['query' => ['manual' => [$bell, $whistle]]]] as $name => $value) update_option($name, $value);
// Links of a page builder that hold their settings in base64, data of elements that are called after what they hold, several in one text, and lists beside terms and in options of a theme.
$packed = '#mr-do%3Aaction%3Dbuoy%3Aopen%26settings%3D' . rawurlencode(base64_encode(wp_json_encode(['id' => (string) $bell, 'page' => $piers])));
update_option('mr_packed', ['link' => ['url' => $packed], 'html' => "<a href=\"$packed\">x</a>"]);
wp_update_nav_menu_item($menu, 0, ['menu-item-title' => 'Packed', 'menu-item-url' => $packed, 'menu-item-type' => 'custom', 'menu-item-status' => 'publish']);
$wpdb->update($wpdb->posts, ['post_content' => "<div data-buoy='{\"id\":$bell,\"x\":12}' data-buoy-ids='[$bell,$whistle]'></div><script>mrBuoys[$bell]={\"level\":$level}; mrBuoy({id: $whistle, at: 12}); mrOpen('buoy', $bell);</script>{{buoy $whistle}} @page($piers)"], ['ID' => entry('mr_buoy', 'named', 'Named', ['post_content' => 'x'])]);
foreach (['mr_hide' => ['hide_on_ids' => "$piers, $crew", 'include' => "page/$piers,page/$crew", 'excluded_from_search' => [$piers, $crew], 'go' => $piers, 'level_for' => ['page' => $level]], 'mr_if' => [['rule' => 'depth', 'op' => 'any', 'val' => [$deep]]], 'mr_hero' => ['hero' => ['desktop' => $anchor, 'mobile' => $anchor], 'whole' => ['id' => $anchor, 'sizes' => []]]] as $name => $value) update_option($name, $value);
// Attributes of short codes, queries and data in data; what is packed twice; lists under the name of the very thing.
$wpdb->update($wpdb->posts, ['post_content' => "[mr_list mr_bg=\"$anchor\" buoy_in=\"$bell, $whistle\" depth=$deep][mr_one buoy='{\"id\":$bell}' query=\"post_type=mr_buoy&p=$whistle\"]<!-- wp:mr/inner " . serialize_block_attributes(['config' => wp_json_encode(['buoy' => $bell, 'level' => (string) $level]), 'showOn' => [$piers, $crew]]) . ' /-->'], ['ID' => entry('mr_buoy', 'attributes', 'Attributes', ['post_content' => 'x'])]);
foreach (['mr_twice' => serialize(serialize(['buoy' => $bell, 'at' => "$address/piers/"])), 'mr_sorted' => ['mr_buoy' => "$whistle,$bell"], 'mr_one' => ['post_type' => 'mr_buoy', 'p' => $bell], 'mr_where' => "singular-page-$piers", 'mr_ask' => "type=page&id=$crew&op=in", 'mr_said' => "post_type:mr_buoy;id:$bell", 'mr_sorts' => [['id' => $deep, 'type' => 'mr_depth']], 'mr_mail' => "See {{page_url:$piers}}"] as $name => $value) update_option($name, $value);
foreach (['mr_api' => "<script>fetch('/wp-json/wp/v2/pages/$piers'); fetch('$address/wp-json/wp/v2/mr_buoy/$bell?_embed');</script>", 'mr_at' => "entry://mr_buoy/$bell", 'mr_lang_pages' => ['en' => ['about' => $piers, 'crew' => (string) $crew], 'ga' => ['about' => $crew]], 'mr_rules' => [['what' => 'mr_depth', 'ids' => [$deep]], ['kind' => 'internal', 'target' => $crew]], 'mr_term_order' => [$deep, $storms], 'mr_buoy_page' => [$bell => $piers, $whistle => $crew], 'mr_under' => "include/singular/child_of/$piers", 'mr_css' => ".attachment-$anchor { margin: 12px }"] as $name => $value) update_option($name, $value);
update_post_meta($bell, 'mr_relation', [$whistle]);
update_post_meta($bell, 'mr_yes', $whistle);
update_term_meta($deep, 'mr_sister', $deep);
update_term_meta($deep, 'mr_gallery', "$anchor|$anchor");
set_theme_mod('mr_pages', "$piers,$crew");
// Files that nobody has a record of: one that both sites have, one, one that neither has.
foreach (['rope.css', 'knot.svg'] as $file) file_put_contents(wp_upload_dir('2026/11')['basedir'] . "/$file", '/* made up */');
copy(wp_upload_dir()['basedir'] . '/rope.css', dirname($folder) . '/live/wp-content/uploads/rope.css');
update_option('mr_files', ['sheet' => "$address/wp-content/uploads/rope.css", 'knot' => '/wp-content/uploads/knot.svg', 'gone' => "$address/wp-content/uploads/gone.png?x=1"]);
