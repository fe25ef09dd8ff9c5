<!doctype html><html><head><meta charset="utf-8"><title><?php bloginfo('name'); ?></title><?php wp_head(); ?>
<style>.custom-logo{width:260px;height:auto}header{display:grid;grid-template-columns:280px 1fr;gap:0 2rem}header a.custom-logo-link{grid-row:1/5}footer{display:grid;grid-template-columns:repeat(4,1fr);gap:2rem;list-style:none;border-top:1px solid #ccc;margin-top:2rem}footer img{max-width:100%}h1,.banner{margin:0}body{font-family:sans-serif;margin:2rem;border-top:12px solid <?php echo esc_attr(get_theme_mod('accent')); ?>}</style></head>
<body><header><?php the_custom_logo(); ?><h1><?php bloginfo('name'); ?></h1><p class="banner"><?php echo esc_html(get_theme_mod('banner_text')); ?></p>
<nav><?php wp_nav_menu(['theme_location' => 'main']); ?></nav></header>
<main><?php while (have_posts()) { the_post(); the_title('<h2>', '</h2>'); the_content(); } ?></main>
<footer><?php dynamic_sidebar('footer'); ?></footer><?php wp_footer(); ?></body></html>
