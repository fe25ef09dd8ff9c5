<?php
// Settings that mean single blocks of areas and single entries of menus, and flows whose steps are called alike: php gantry.php SITE-FOLDER dev|live ADDRESS
require __DIR__ . '/begin.php';
register_post_type('gn_flow', ['public' => true]);
register_post_type('gn_step', ['public' => true, 'hierarchical' => true]);
/** Puts text blocks, by their numbers, into an area. */
function place(string $area, array $blocks): void {
  update_option('widget_text', $blocks + (get_option('widget_text') ?: []));
  $areas = get_option('sidebars_widgets');
  update_option('sidebars_widgets', [...$areas, $area => [...$areas[$area] ?? [], ...array_map(fn ($number) => "text-$number", array_keys($blocks))]]);
}
/** A flow with its steps, each of which leads to the next. */
function flow(string $name, array $steps): void {
  $flow = entry('gn_flow', $name, ucfirst($name));
  $ids = [];
  foreach ($steps as $i => $step) $ids[] = entry('gn_step', $step, "$name: $step", ['post_parent' => $flow, 'menu_order' => $i]);
  foreach ($ids as $i => $id) update_post_meta($id, 'gn_next_step', $ids[$i + 1] ?? 0);
  update_post_meta($flow, 'gn_steps', array_map(fn ($id) => ['id' => $id, 'width' => 7], $ids));
}
if (!$dev) flow('ask', ['start', 'send']);
if (!$dev) { place('footer', [5 => ['title' => 'Own', 'text' => 'own'], 6 => ['title' => 'Last', 'text' => 'own too']]); return; }
place('footer', [5 => ['title' => 'Hours', 'text' => 'nine to five'], 7 => ['title' => 'Hours', 'text' => 'nine to six']]);
place('quay', [6 => ['title' => '', 'text' => 'no title']]);
$menu = wp_create_nav_menu('Gantry');
$item = fn ($title, $above) => wp_update_nav_menu_item($menu, 0, ['menu-item-title' => $title, 'menu-item-url' => '#', 'menu-item-type' => 'custom', 'menu-item-parent-id' => $above, 'menu-item-status' => 'publish']);
$top = $item('Crossings', 0);
$below = $item('By night', $top);
update_post_meta($top, '_gantry_panel', ['columns' => [['width' => 7, 'widgets' => ['text-6', 'text-7']]], 'item' => $below]);
update_option('gantry_widget_rules', ['text-7' => ['show' => 'on', 'after' => 6], 'text-6' => ['show' => 'off']]);
update_option('gantry_menu_icons', [$top => 'boat', $below => 'moon']);
update_option('gantry_strip', ['widget' => 'text-5', 'style' => 'text-5', 'nav_item' => $below]);
flow('book', ['start', 'pay']);
flow('ask', ['start', 'send', 'thanks']);
wp_update_custom_css_post("#menu-item-$below a { width: 7px }");
