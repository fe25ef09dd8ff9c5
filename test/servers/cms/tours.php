<?php
// Tables of an extension whose rows say what they belong to: a post by its id, one or the other table by a word, two posts, an entry or a term of which they are a part; and names that say what a number is: php tours.php SITE-FOLDER dev|live ADDRESS
require __DIR__ . '/begin.php';
global $wpdb;
$p = $wpdb->prefix;
register_post_type('trip_tour', ['public' => false]);
register_taxonomy('trip_area', ['trip_tour']);
[$fares, $contact, $harbour] = [there('page', 'fares'), there('page', 'contact'), there('attachment', 'harbour')];
skip_ids($dev ? 3 : 41);
for ($i = 0; $i < ($dev ? 7 : 30); $i++) wp_delete_term(wp_insert_term("gone $i", 'trip_area')['term_id'], 'trip_area');
$like = "default charset utf8mb4";
foreach ([
  "rules (id bigint unsigned not null auto_increment primary key, post_id bigint unsigned not null, rule varchar(40) not null, settings longtext null)",
  "links (id bigint unsigned not null auto_increment primary key, from_type varchar(20) not null, from_id bigint unsigned not null, to_type varchar(20) not null, to_id bigint unsigned not null)",
  "shown (id int unsigned not null auto_increment primary key, object_type varchar(20) not null, object_id bigint unsigned not null, cond_key varchar(60) not null, cond_value longtext null)",
  "dates (tour_id bigint unsigned not null, starts datetime not null, seats int not null default 0, primary key (tour_id, starts))",
  "stops (stop_id bigint unsigned not null auto_increment primary key, tour_id bigint unsigned not null, position int not null, title varchar(80) not null, text longtext null, updated_at datetime null)",
  "pages (tour_id bigint unsigned not null, role varchar(20) not null, object_id bigint unsigned not null, primary key (tour_id, role, object_id))",
  "galleries (id int unsigned not null auto_increment primary key, slug varchar(40) not null unique, name varchar(60) not null)",
  "gallery_items (id int unsigned not null auto_increment primary key, gallery_id int unsigned not null, attachment_id bigint unsigned not null, position int not null)",
  "levels (id int unsigned not null auto_increment primary key, label varchar(60) not null)",
  "level_rules (id int unsigned not null auto_increment primary key, level_id int unsigned not null, object_type varchar(20) not null, object_id bigint unsigned not null)",
  "skins (skin char(8) not null primary key, title varchar(60) not null, markup longtext null)",
  "stats (tour_id bigint unsigned not null, day date not null, views int not null default 0, primary key (tour_id, day))",
  "regions (region_id int unsigned not null auto_increment primary key, region varchar(60) not null)",
  "region_fares (region_id int unsigned not null, fare_id int unsigned not null auto_increment primary key, method varchar(40) not null, fare_order int not null)",
  "ties (tie_id bigint unsigned not null auto_increment primary key, tie_from bigint unsigned not null, tie_to bigint unsigned not null, tie_type varchar(40) not null)",
  "tones (id int unsigned not null auto_increment primary key, hue int not null, page_id bigint unsigned not null)",
  "looks (term_id bigint unsigned not null primary key, colour varchar(9) not null, picture_id bigint unsigned not null)",
] as $table) $wpdb->query("create table {$p}trip_$table $like");
// Settings are called after rows of a table, which are nothing without the row that they belong to.
$wpdb->insert("{$p}trip_regions", ['region' => 'Isles']);
foreach ($dev ? ['flat', 'flat', 'free'] : ['free'] as $i => $method) {
  $wpdb->insert("{$p}trip_region_fares", ['region_id' => 1, 'method' => $method, 'fare_order' => $dev ? $i + 1 : 3]);
  if ($dev) update_option("trip_{$method}_{$wpdb->insert_id}_settings", ['cost' => "7.$i", 'page_id' => $fares]);
}
// Two of one sort of row that are tied to each other, and rows that nothing but their ids tells apart.
foreach ($dev ? [[$fares, $harbour], [$contact, $harbour]] : [[$contact, $contact]] as [$from, $to]) $wpdb->insert("{$p}trip_ties", ['tie_from' => $from, 'tie_to' => $to, 'tie_type' => 'seen']);
foreach ($dev ? [4, 4] : [9] as $hue) $wpdb->insert("{$p}trip_tones", ['hue' => $hue, 'page_id' => $dev ? $fares : $contact]);
// The first ids of the two sites are not the same.
if (!$dev) foreach (['galleries' => ['slug' => 'old', 'name' => 'Old'], 'levels' => ['label' => 'Old']] as $table => $row) $wpdb->insert("{$p}trip_$table", $row);
if ($dev) {
  $area = wp_insert_term('North', 'trip_area', ['slug' => 'north'])['term_id'];
  $tour = entry('trip_tour', 'loop', 'Loop', ['post_content' => "[trip_map ids=\"$fares|$contact\"]"], [
    'trip_gallery' => [$harbour], 'trip_cta' => ['type' => 'page', 'object' => $fares], 'trip_related' => "$fares,$contact", '_trip_rules' => json_encode(['rules' => [['field' => 'page', 'value' => $fares], ['field' => 'term', 'value' => $area]]]), 'trip_areas' => [$area => ['hero' => $harbour]],
  ]);
  foreach ([[$fares, 'redirect', serialize(['page_id' => $contact])], [$tour, 'discount', json_encode(['percent' => 10, 'page_id' => $fares])], [$tour, 'limit', '5']] as [$post, $rule, $settings]) $wpdb->insert("{$p}trip_rules", ['post_id' => $post, 'rule' => $rule, 'settings' => $settings]);
  foreach ([['trip_tour', $tour, 'page', $fares], ['page', $fares, 'trip_tour', $tour]] as [$from, $a, $to, $b]) $wpdb->insert("{$p}trip_links", ['from_type' => $from, 'from_id' => $a, 'to_type' => $to, 'to_id' => $b]);
  foreach ([['post', $tour, 'pages', json_encode(['page_ids' => "$fares,$contact"])], ['term', $area, 'note', 'far']] as [$type, $id, $key, $value]) $wpdb->insert("{$p}trip_shown", ['object_type' => $type, 'object_id' => $id, 'cond_key' => $key, 'cond_value' => $value]);
  // Its name ends like a word for a thing that has ids, and its order is one of these by chance.
  wp_insert_post(['post_type' => 'trip_tour', 'post_name' => 'booking-form', 'post_title' => 'Booking', 'post_status' => 'publish', 'menu_order' => $fares]);
  foreach (['Quay', 'Light', 'Fort'] as $i => $title) $wpdb->insert("{$p}trip_stops", ['tour_id' => $tour, 'position' => $i + 1, 'title' => $title, 'text' => "<a class=\"wp-image-$harbour\" href=\"$address/fares/\">x</a> [gallery ids=\"$harbour\"]", 'updated_at' => '2026-11-01 08:00:00']);
  foreach ([['shown', $fares], ['shown', $contact], ['hidden', $contact]] as [$role, $page]) $wpdb->insert("{$p}trip_pages", ['tour_id' => $tour, 'role' => $role, 'object_id' => $page]);
  $wpdb->insert("{$p}trip_galleries", ['slug' => 'birds', 'name' => 'Birds']);
  $wpdb->insert("{$p}trip_gallery_items", ['gallery_id' => 1, 'attachment_id' => $harbour, 'position' => 1]);
  $wpdb->insert("{$p}trip_levels", ['label' => 'Crew']);
  foreach ([['post', $fares], ['term', $area]] as [$type, $id]) $wpdb->insert("{$p}trip_level_rules", ['level_id' => 1, 'object_type' => $type, 'object_id' => $id]);
  $wpdb->insert("{$p}trip_skins", ['skin' => 'a1b2c3d4', 'title' => 'Plain', 'markup' => "<i class=\"wp-image-$harbour\">[trip_gallery id=\"1\"]</i>"]);
  $wpdb->insert("{$p}trip_stats", ['tour_id' => $tour, 'day' => '2026-11-01', 'views' => 5]);
  $wpdb->insert("{$p}trip_looks", ['term_id' => $area, 'colour' => '#0a3d62', 'picture_id' => $harbour]);
  foreach (['2031-05-01 09:00:00', '2031-06-01 09:00:00'] as $starts) $wpdb->insert("{$p}trip_dates", ['tour_id' => $tour, 'starts' => $starts, 'seats' => 12]);
}
