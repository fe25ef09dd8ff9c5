<?php
// Extensions in other shapes than those of fill.php, as a second act of it: php more.php SITE-FOLDER dev|live ADDRESS
require __DIR__ . '/begin.php';
register_post_type('quay_form', ['public' => false]);
register_taxonomy('quay_zone', ['quay_form']);

[$fares, $contact, $harbour, $winter] = [there('page', 'fares'), there('page', 'contact'), there('attachment', 'harbour'), there('board_template', 'winter')];
if (!$dev) skip_ids(33);

// Forms as JSON in the content, and settings beside them.
$form = entry('quay_form', 'booking-form', 'Booking form', ['post_content' => json_encode(['fields' => [['key' => 'seats', 'max' => $dev ? 6 : 4]], 'action' => "$address/fares/", 'thankYouPage' => $contact])],
  ['_form_settings' => ['notify_page' => $fares, 'template' => $winter, 'mail' => ['logo' => $harbour], 'ratio' => 0.1, 'whole' => 3.0]]);
if ($dev) {
  $lost = entry('quay_form', 'lost-form', 'Lost property', ['post_content' => json_encode(['after' => ['formId' => $form]])]);
  // Ids in the data of blocks, in attributes, and in short codes of any name.
  entry('board_template', 'combo', 'Combo', ['post_content' => "<!-- wp:quay/board {\"boardId\":$winter,\"pageId\":$fares,\"userId\":1,\"queryId\":$fares} -->\n<div data-id=\"$harbour\" data-form-id=\"$lost\">[quay_form id=\"$form\" style='x'] [quay_form id=$lost] [any form_id='$lost']</div>\n<!-- /wp:quay/board -->"]);
  $zone = wp_insert_term('North', 'quay_zone', ['slug' => 'north'])['term_id'];
  add_term_meta($zone, 'image_id', $harbour);
  update_option('quay_slider', ['slides' => [['image' => $harbour, 'pageId' => $fares]], 'zone_term_id' => $zone, 'forms' => [$form, $lost], 'by_page' => [$fares => 'dark', $contact => 'light'], 'page' => 2, 'speed' => $fares]);
  $object = new stdClass;
  $object->page_id = $fares;
  $object->link = "$address/contact/";
  update_option('quay_object', $object);
  update_option("quay_skin_$lost", ['colour' => 'navy', 'form_id' => $lost]);
}
update_option("quay_skin_$form", ['colour' => $dev ? 'teal' : 'white', 'form_id' => $form]);

// Tables of an extension's own.
global $wpdb;
$p = $wpdb->prefix;
$wpdb->query("create table {$p}quay_rates (rate_id bigint unsigned not null auto_increment primary key, slug varchar(60) not null unique, label varchar(200) not null, price decimal(12,4) not null, page_id bigint unsigned not null default 0, options longtext) default charset=utf8mb4");
$wpdb->query("create table {$p}quay_rate_steps (step_id bigint unsigned not null auto_increment primary key, rate_id bigint unsigned not null, position int not null default 0, title varchar(100) not null)");
if (!$dev) for ($i = 0; $i < 4; $i++) { $wpdb->insert("{$p}quay_rates", ['slug' => 'gone', 'label' => '', 'price' => 0]); $wpdb->delete("{$p}quay_rates", ['slug' => 'gone']); }
foreach ($dev ? ['adult' => 12.5, 'child' => 6.25] : ['adult' => 11] as $slug => $price) {
  $wpdb->insert("{$p}quay_rates", ['slug' => $slug, 'label' => ucfirst($slug), 'price' => $price, 'page_id' => $fares, 'options' => serialize(['image' => $harbour, 'home' => $address])]);
  $rate = $wpdb->insert_id;
  foreach (['first', 'second'] as $i => $title) $wpdb->insert("{$p}quay_rate_steps", ['rate_id' => $rate, 'position' => $i, 'title' => "$slug $title"]);
}
// Where others say its ids.
update_option('quay_default_rate', $rate);
entry('board_template', 'rate-board', 'Rates', ['post_content' => "<p>[quay_rate id=\"$rate\"]</p>\n<!-- wp:quay/rate {\"rateId\":$rate} /-->"]);
