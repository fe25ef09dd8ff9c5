<?php
// What the CMS has of gantry.php, as JSON: blocks of areas and entries of menus are said by what is in them.
$texts = get_option('widget_text');
$block = fn ($name) => preg_match('/^text-(\d+)$/', $name, $found) ? $texts[$found[1]]['text'] ?? 'none' : $name;
$entries = array_column(wp_get_nav_menu_items('Gantry') ?: [], null, 'ID');
$entry = fn ($id) => $entries[$id]->title ?? 'none';
$panel = get_post_meta(array_search('Crossings', array_column($entries, 'title', 'ID')), '_gantry_panel', true);
$named = fn ($map, $of) => array_combine(array_map($of, array_keys($map)), array_values($map));
[$strip, $areas] = [get_option('gantry_strip'), get_option('sidebars_widgets')];
echo json_encode([
  'areas' => array_map(fn ($area) => array_map($block, array_filter($areas[$area], fn ($name) => str_starts_with($name, 'text-'))), ['footer', 'quay']),
  'panel' => [array_map($block, $panel['columns'][0]['widgets']), $panel['columns'][0]['width'], $entry($panel['item'])],
  'rules' => $named(get_option('gantry_widget_rules'), $block), 'icons' => $named(get_option('gantry_menu_icons'), $entry),
  'strip' => [$block($strip['widget']), $strip['style'], $entry($strip['nav_item'])],
  'css' => preg_replace_callback('/menu-item-(\d+)/', fn ($found) => $entry((int) $found[1]), wp_get_custom_css()),
]);
