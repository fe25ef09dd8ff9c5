<?php
// An extension that was made up: php extension.php SITE-FOLDER dev|live ADDRESS SPEC plants it; with one more word it says what each place should hold on this site, and what it holds.
require __DIR__ . '/begin.php';
global $wpdb;
$p = $wpdb->prefix;
$spec = json_decode(file_get_contents($argv[4]), true);
$looks = isset($argv[5]);
foreach ($spec['types'] as $type) register_post_type($type, ['public' => true]);
foreach ($spec['taxonomies'] as $taxonomy) register_taxonomy($taxonomy, $spec['types'], ['hierarchical' => true]);

function id_of(array $thing): int {
  global $wpdb;
  ['sort' => $sort, 'slug' => $slug] = $thing;
  if ($sort === 'term') return get_term_by('slug', $slug, $thing['of'])->term_id ?? 0;
  if ($sort === 'menu') return wp_get_nav_menu_object($slug)->term_id ?? 0;
  if ($sort === 'row') { [$key, $called] = $thing['by'] ?? ['id', 'label']; return (int) $wpdb->get_var($wpdb->prepare("select $key from {$wpdb->prefix}{$thing['of']} where $called = %s", $slug)); }
  return (int) $wpdb->get_var($wpdb->prepare("select ID from $wpdb->posts where post_type = %s and post_name = %s", $thing['of'], $slug));
}
function in_order(array $ids): array { sort($ids); return $ids; }
function row(string $table, array $row): void { global $wpdb; if ($wpdb->insert($wpdb->prefix . $table, $row) === false) throw new Exception($wpdb->last_error); }

if (!$looks) {
  foreach ($spec['tables'] as $table => $columns) if ($wpdb->query("create table $p$table ($columns) default charset=utf8mb4") === false) throw new Exception($wpdb->last_error);
  skip_ids($spec['skip'][$dev ? 0 : 1]);
  foreach (array_keys($spec['tables']) as $i => $table) if ($i === 0 || !$dev) $wpdb->query("alter table $p$table auto_increment = " . ($spec['skip'][$dev ? 1 : 0] + 1 + $i));
  foreach ($dev ? $spec['things'] : array_reverse($spec['things']) as $thing) {
    ['sort' => $sort, 'of' => $of, 'slug' => $slug, 'live' => $live] = $thing;
    if ((!$dev && !$live) || id_of($thing)) continue;
    match ($sort) { 'term' => wp_insert_term($slug, $of, ['slug' => $slug]), 'menu' => wp_create_nav_menu($slug), 'row' => row($of, [$thing['by'][1] ?? 'label' => $slug]), 'picture' => plain($slug, $slug, [crc32($slug) % 256, 9, 9]), default => entry($of, $slug, "The $slug") };
  }
}
$ids = array_map('id_of', array_column($spec['things'], null, 'key'));

/** A value of the spec as it is on this site: what stands for an id or an address becomes one. */
function here(mixed $value): mixed {
  global $ids, $address;
  if (is_string($value)) return str_replace('{home}', $address, $value);
  if (!is_array($value)) return $value;
  $of = reset($value);
  return match (array_is_list($value) ? '' : key($value)) {
    '$id' => $ids[$of], '$text' => (string) $ids[$of], '$list' => implode(',', array_map(fn ($key) => $ids[$key], $of)), '$picture' => wp_get_attachment_url($ids[$of]),
    '$all' => implode('', array_map(fn ($one) => here($one), $of)), '$by' => array_combine(array_map(fn ($pair) => $ids[$pair[0]], $of), array_map(fn ($pair) => here($pair[1]), $of)),
    '$json' => json_encode(here($of)), '$plain' => json_encode(here($of), JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE), '$php' => serialize(here($of)), '$base64' => base64_encode(here($of)), '$encoded' => rawurlencode(here($of)), '$quoted' => esc_attr(here($of)),
    default => array_map('here', $value),
  };
}

$seen = [];
foreach ($spec['places'] as $place) {
  ['in' => $in, 'of' => $of] = $place;
  [$id, $name, $value] = [$ids[$of] ?? 0, here($place['name']), here($place['value'])];
  if (!$looks && $dev) match ($in) {
    'option' => update_option($name, $value), 'field' => add_post_meta($id, $name, wp_slash($value)), 'record' => $wpdb->update($wpdb->posts, [$name => $value], ['ID' => $id]), 'term' => add_term_meta($id, $name, wp_slash($value)),
    'column' => $wpdb->update($p . $place['table'], [$name => $value], [$place['key'] ?? 'id' => $id]), 'row' => row($place['table'], $value + [$name => $id]), 'rows' => array_map(fn ($row) => row($place['table'], $row + [$name => $id]), $value),
    'terms' => wp_set_object_terms($id, $value, $name),
  };
  if ($looks) $seen[] = ["$in $of $name", $in === 'terms' ? in_order($value) : $value, match ($in) {
    'option' => get_option($name), 'field' => get_post_meta($id, $name, true), 'record' => get_post($id)->$name ?? null, 'term' => get_term_meta($id, $name, true),
    'column' => $wpdb->get_var("select `$name` from $p{$place['table']} where " . ($place['key'] ?? 'id') . " = $id"), 'terms' => in_order(wp_get_object_terms($id, $name, ['fields' => 'ids'])),
    'rows' => $wpdb->get_results('select ' . implode(', ', array_map(fn ($column) => "`$column`", array_keys($value[0]))) . " from $p{$place['table']} where $name = $id order by {$place['key']}", ARRAY_A), 'row' => $wpdb->get_row('select ' . implode(', ', array_keys($value)) . " from $p{$place['table']} where $name = $id and label = '{$value['label']}'", ARRAY_A),
  }];
}
if ($looks) echo json_encode($seen);
